/** The student's page: read, and what the student says there, also without a connection. */
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useRef, useState } from "react";
import { api, data, type Schemas } from "./client";
import { keys } from "./keys";
import { isLost, ON_A_PHONE } from "./links";
import { Outbox } from "./outbox";

export type PracticePage = Schemas["PracticePage"];
export type ThenNow = Schemas["ThenNow"];

/** What a student says; what is not sent yet lies in the outbox. */
export type Saying =
  | { do: "tick"; date: string; done: boolean; exercise: number | null }
  | { do: "reed"; reed: number; date: string }
  | { do: "word"; text: string; exercise: number | null };

/** What is not sent is tried again every so often: not every browser says that the connection is
 * back; Chromium says nothing to a page that was opened without one. */
const PAUSE_MS = 10_000;

/** By which the server counts days where the teacher has set no time zone. */
const headers = { "X-Time-Zone": Intl.DateTimeFormat().resolvedOptions().timeZone };

function send(token: string, saying: Saying): Promise<PracticePage> {
  const how = { params: { path: { token } }, headers };
  switch (saying.do) {
    case "tick":
      return data(
        api.POST("/api/film/{token}/page/days/", {
          ...how,
          body: { date: saying.date, done: saying.done, exercise: saying.exercise },
        }),
      );
    case "reed":
      return data(
        api.POST("/api/film/{token}/page/reeds/", {
          ...how,
          body: { reed: saying.reed, date: saying.date },
        }),
      );
    case "word":
      return data(
        api.POST("/api/film/{token}/page/words/", {
          ...how,
          body: { text: saying.text, exercise: saying.exercise },
        }),
      );
  }
}

export function usePracticePage(token: string) {
  return useQuery({
    queryKey: keys.practicePage(token),
    queryFn: () =>
      data(api.GET("/api/film/{token}/page/", { params: { path: { token } }, headers })),
    ...ON_A_PHONE,
  });
}

export function useOwnThenNow(token: string) {
  return useQuery({
    queryKey: keys.ownThenNow(token),
    queryFn: () =>
      data(api.GET("/api/film/{token}/page/then-now/", { params: { path: { token } } })),
    ...ON_A_PHONE,
  });
}

/** Made-up players of the student's instrument, when asked for. */
export function useOwnPairs(token: string, asked: boolean) {
  return useQuery({
    queryKey: keys.ownPairs(token),
    queryFn: () =>
      data(api.GET("/api/film/{token}/page/pairs/", { params: { path: { token } } })),
    ...ON_A_PHONE,
    enabled: asked,
    staleTime: Infinity,
  });
}

/** The page as it will be once all that was said has been sent. */
export function withUnsent(page: PracticePage, sayings: readonly Saying[]): PracticePage {
  return sayings.reduce((shown, saying) => {
    if (saying.do === "reed") {
      const reeds = shown.reeds.map((one) =>
        one.id === saying.reed ? { ...one, last_on: saying.date } : one,
      );
      return { ...shown, reeds };
    }
    if (saying.do === "word") {
      const word = { day: "", text: saying.text };
      return { ...shown, said: [word, ...shown.said] };
    }
    if (saying.exercise === null) {
      const days = shown.days.map((one) =>
        one.date === saying.date ? { ...one, mine: saying.done } : one,
      );
      return { ...shown, days };
    }
    const exercises = shown.exercises.map((one) =>
      one.id === saying.exercise ? { ...one, mine: ticked(one.mine, saying) } : one,
    );
    return { ...shown, exercises };
  }, page);
}

function ticked(days: readonly string[], saying: { date: string; done: boolean }): string[] {
  const others = days.filter((one) => one !== saying.date);
  return saying.done ? [...others, saying.date] : others;
}

export interface Said {
  say: (saying: Saying) => void;
  unsent: Saying[];
  /** Why the server did not take the last thing. */
  refused: Error | null;
}

/**
 * Says things one after the other; without a connection they wait on the phone, over a reload as
 * well, and go out when it is back.
 */
export function useSaying(token: string): Said {
  const client = useQueryClient();
  const outbox = useMemo(() => new Outbox<Saying>(`sulvet-practice-${token}`), [token]);
  const [unsent, setUnsent] = useState(() => outbox.all().map(({ what }) => what));
  const [refused, setRefused] = useState<Error | null>(null);
  const sending = useRef(false);
  const flush = useCallback(async () => {
    if (sending.current) return;
    sending.current = true;
    try {
      for (let next = outbox.all()[0]; next; next = outbox.all()[0]) {
        try {
          const page = await send(token, next.what);
          client.setQueryData(keys.practicePage(token), page);
          setRefused(null);
        } catch (error) {
          if (isLost(error)) return;
          setRefused(error instanceof Error ? error : new Error(String(error)));
        }
        outbox.done(next.ticket);
        setUnsent(outbox.all().map(({ what }) => what));
      }
    } finally {
      sending.current = false;
    }
  }, [client, outbox, token]);
  useEffect(() => {
    const go = () => void flush();
    go();
    window.addEventListener("online", go);
    // A server that was away sends no such word: whoever looks again tries again.
    document.addEventListener("visibilitychange", go);
    const often = setInterval(go, PAUSE_MS);
    return () => {
      clearInterval(often);
      window.removeEventListener("online", go);
      document.removeEventListener("visibilitychange", go);
    };
  }, [flush]);
  return {
    say: (saying) => {
      outbox.put(saying, 0);
      setUnsent(outbox.all().map(({ what }) => what));
      void flush();
    },
    unsent,
    refused,
  };
}
