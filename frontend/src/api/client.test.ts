import { afterEach, describe, expect, it, vi } from "vitest";
import { api, data, patiently, refusalOf } from "./client";

afterEach(() => void vi.unstubAllGlobals());

function serve(answer: () => Promise<Response> | Response) {
  const requests: Request[] = [];
  const fetcher = (request: Request) => {
    requests.push(request);
    return Promise.resolve(answer());
  };
  return { requests, fetcher };
}

const json = (body: unknown, status = 200) =>
  new Response(JSON.stringify(body), {
    status,
    headers: { "Content-Type": "application/json" },
  });

const base = { baseUrl: "http://localhost" };

describe("api", () => {
  it("gives the data of an answer", async () => {
    const { fetcher } = serve(() => json({ username: "a", new: false }));
    const session = await data(api.GET("/api/session/", { ...base, fetch: fetcher }));
    expect(session.username).toBe("a");
  });

  it("throws the server's sentence", async () => {
    const { fetcher } = serve(() => json({ detail: "Send it again." }, 409));
    const asked = data(api.GET("/api/session/", { ...base, fetch: fetcher }));
    await expect(asked).rejects.toMatchObject({ message: "Send it again.", status: 409 });
  });

  it("says what to do when nobody answers, or with something odd", async () => {
    const { fetcher } = serve(() => Promise.reject(new TypeError("refused")));
    const asked = data(api.GET("/api/session/", { ...base, fetch: fetcher }));
    await expect(asked).rejects.toThrow("Is it still running");
    expect(refusalOf(502, "<html>").message).toContain("Try again");
  });

  it("sends the page's token with changes and not with reads", async () => {
    document.cookie = "csrftoken=abc123";
    const { fetcher, requests } = serve(() =>
      json({ username: null, new: false, code_needed: false }),
    );
    await api.GET("/api/session/", { ...base, fetch: fetcher });
    await api.DELETE("/api/session/", { ...base, fetch: fetcher });
    expect(requests.map((r) => r.headers.get("X-CSRFToken"))).toEqual([null, "abc123"]);
  });
});

describe("patiently", () => {
  it("asks a busy server again after as long as it says, and no other one", async () => {
    vi.useFakeTimers();
    const busy = () => new Response("", { status: 503, headers: { "Retry-After": "2" } });
    const answers = [busy(), busy(), json({ username: "a" })];
    const ask = vi.fn(() => Promise.resolve(answers.shift() ?? busy()));
    const asked = patiently(ask);
    await vi.advanceTimersByTimeAsync(1900);
    expect(ask).toHaveBeenCalledTimes(1);
    await vi.advanceTimersByTimeAsync(2200);
    expect((await asked).status).toBe(200);
    expect(ask).toHaveBeenCalledTimes(3);
    const down = vi.fn(() => Promise.resolve(new Response("", { status: 503 })));
    expect((await patiently(down)).status).toBe(503);
    expect(down).toHaveBeenCalledTimes(1);
    vi.useRealTimers();
  });
});
