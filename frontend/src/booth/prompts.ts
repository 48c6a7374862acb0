/** Where in the prompts a moment lies: which one, and the number that is counted. */
import type { Booth } from "../api/booth";

export type Prompt = Booth["prompts"][number];

export interface Asked {
  prompt: Prompt;
  /** Counted up where it is counted aloud, else seconds that are left. */
  number: number;
}

export function lastsOf(prompts: Prompt[]): number {
  return prompts.reduce((sum, one) => sum + one.seconds, 0);
}

/** When a prompt begins, s; at the end where there is no such prompt. */
export function beginOf(prompts: Prompt[], id: string): number {
  const n = prompts.findIndex((one) => one.id === id);
  return lastsOf(n < 0 ? prompts : prompts.slice(0, n));
}

export function askedAt(prompts: Prompt[], seconds: number): Asked | null {
  let begin = 0;
  for (const prompt of prompts) {
    if (seconds < begin + prompt.seconds) {
      const into = seconds - begin;
      const number =
        prompt.counts === null
          ? Math.ceil(prompt.seconds - into)
          : Math.floor((into / prompt.seconds) * prompt.counts) + 1;
      return { prompt, number };
    }
    begin += prompt.seconds;
  }
  return null;
}
