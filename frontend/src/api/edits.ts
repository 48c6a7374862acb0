/** Edits of a take: one after the other, each on the revision it was begun on, none lost. */
import { useMutation, useMutationState, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { Refusal, api, data, type BenchPage, type Phase, type Schemas } from "./client";
import { Outbox } from "./outbox";
import { keys } from "./keys";
import { counted } from "../shared/format";
import { t } from "../shared/words";

export interface MarkPlace {
  landmark: string;
  frame: number;
  x: number;
  y: number;
  hidden: boolean;
}

/** Why a finding is dismissed. */
export type Why = "not-so" | "camera" | "later";

/** All that a teacher may change on a take. */
export type Edit =
  | { kind: "marks"; marks: MarkPlace[] }
  | { kind: "remove-mark"; landmark: string; frame: number }
  | { kind: "accept" | "undo" | "redo" }
  | { kind: "phases"; phases: Pick<Phase, "name" | "start" | "end">[] }
  | { kind: "length"; known_mm: number | null }
  | {
      kind: "decide";
      fault: string;
      phase: string;
      answer: "confirmed" | "dismissed" | "added" | "";
      reason: string;
      why?: Why;
    }
  | { kind: "focus"; fault: string }
  | { kind: "observe"; seen: string[] }
  | { kind: "read"; read: boolean };

/** Send one edit; the answer is the whole Bench as it then stands. */
export function sendEdit(id: number, edit: Edit, revision: number): Promise<BenchPage> {
  const params = { path: { take_id: id }, header: { "If-Match": revision } };
  switch (edit.kind) {
    case "marks":
      return data(
        api.PUT("/api/takes/{take_id}/marks/", { params, body: { marks: edit.marks } }),
      );
    case "remove-mark": {
      const query = { landmark: edit.landmark, frame: edit.frame };
      return data(api.DELETE("/api/takes/{take_id}/marks/", { params: { ...params, query } }));
    }
    case "accept":
      return data(api.POST("/api/takes/{take_id}/marks/accept/", { params }));
    case "undo":
      return data(api.POST("/api/takes/{take_id}/undo/", { params }));
    case "redo":
      return data(api.PUT("/api/takes/{take_id}/undo/", { params }));
    case "phases":
      return data(
        api.PUT("/api/takes/{take_id}/phases/", { params, body: { phases: edit.phases } }),
      );
    case "length":
      return data(
        api.PUT("/api/takes/{take_id}/scale/", { params, body: { known_mm: edit.known_mm } }),
      );
    case "decide": {
      const { fault, phase, answer, reason } = edit;
      const body = { fault, phase, answer, reason, why: edit.why ?? ("" as const) };
      return data(api.PUT("/api/takes/{take_id}/decisions/", { params, body }));
    }
    case "focus":
      return data(
        api.PUT("/api/takes/{take_id}/focus/", { params, body: { fault: edit.fault } }),
      );
    case "observe":
      return data(
        api.PUT("/api/takes/{take_id}/observations/", { params, body: { seen: edit.seen } }),
      );
    case "read":
      return data(api.PATCH("/api/takes/{take_id}/", { params, body: { read: edit.read } }));
  }
}

/** How long to wait before a lost connection is tried again, ms. */
export function wait(tries: number): number {
  return Math.min(500 * 2 ** tries, 5000);
}

function gone(count: number): Error {
  return new Error(
    t(
      "{{changes}} of this take could not be sent before the page was closed, and the take has changed since. Check the take and make them again if they are missing.",
      { changes: counted(count, "change") },
    ),
  );
}

/** What the Bench does to its take. */
export function useTakeEdits(page: BenchPage) {
  const id = page.take.id;
  const client = useQueryClient();
  const [outbox] = useState(() => new Outbox<Edit>(`sulvet-unsent-${id}`));
  const [left] = useState(() => outbox.all());
  const stale = left.length > 0 && left[0]?.revision !== page.revision;
  const [trouble, setTrouble] = useState<Error | null>(() =>
    stale ? gone(left.length) : null,
  );
  const mutationKey = ["edit", id];
  const edit = useMutation({
    mutationKey,
    // One after the other: two edits of one take never overtake each other.
    scope: { id: `take-${id}` },
    mutationFn: ({ edit }: { edit: Edit; ticket: number }) => {
      const now = client.getQueryData<BenchPage>(keys.take(id)) ?? page;
      return sendEdit(id, edit, now.revision);
    },
    // Tried again without end while Sulvet can't be reached; a refusal stays one.
    networkMode: "always",
    retry: (_, error) => error instanceof Refusal && error.status === 0,
    retryDelay: wait,
    onMutate: () => {
      setTrouble(null);
      // An answer that is on its way shows the take as it was before this edit.
      return client.cancelQueries({ queryKey: keys.take(id) });
    },
    onSuccess: (answer) => {
      client.setQueryData(keys.take(id), answer);
      void client.invalidateQueries({ queryKey: keys.band });
      void client.invalidateQueries({ queryKey: keys.student(answer.take.student) });
    },
    onError: (error) => {
      setTrouble(error);
      // Changed elsewhere: show how it stands there.
      if (error instanceof Refusal && error.status === 412)
        return client.invalidateQueries({ queryKey: keys.take(id) });
    },
    onSettled: (_, __, { ticket }) => outbox.done(ticket),
  });
  const waiting = useMutationState({
    filters: { mutationKey, status: "pending" },
    select: (mutation) => mutation.state.failureReason,
  });

  function send(what: Edit, then: { onSuccess?: () => void; onSettled?: () => void } = {}) {
    const ticket = outbox.put(what, page.revision);
    edit.mutate({ edit: what, ticket }, then);
  }

  // What an earlier page could not send any more is sent now, if the take still stands so.
  useEffect(() => {
    outbox.clear();
    if (!stale) for (const { what } of left) send(what);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when the Bench opens
  }, []);

  return {
    send,
    trouble,
    /** How many edits are on their way. */
    waiting: waiting.length,
    /** The connection is lost; what waits is sent when it is back. */
    lost: waiting.some((reason) => reason !== null),
  };
}

/** What is seen before anything is shown; then all of it is. */
export function useSayFirst(take: number) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: (body: Schemas["SaidFirstInRequest"]) =>
      data(
        api.POST("/api/takes/{take_id}/said-first/", {
          params: { path: { take_id: take } },
          body,
        }),
      ),
    onSuccess: (page) => client.setQueryData(keys.take(take), page),
  });
}
