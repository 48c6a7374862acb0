/** One clip of a folder on its way in. */
import type { Chair } from "../api/client";
import type { ClipMatch } from "../api/records";
import { mayBeFilmed } from "../shared/consent";
import { dayOfClip } from "./recordedOn";

export interface ClipRow {
  key: string;
  file: File;
  /** Id as the field has it; empty while nobody is chosen. */
  student: string;
  view: "front" | "side";
  purpose: "check" | "recheck";
  filmedOn: string;
  why: string;
  /** Whether it is a clip at all. */
  video: boolean;
  state: "waiting" | "sending" | "sent";
  share: number;
  trouble: string;
}

let made = 0;

/** As it is proposed. A name that says the day wins. */
export async function rowOf(
  file: File,
  match: ClipMatch | undefined,
  today: string,
): Promise<ClipRow> {
  const day = match?.filmed_on || (await dayOfClip(file));
  return {
    key: `${file.name}-${made++}`,
    file,
    student: match?.student == null ? "" : String(match.student),
    view: match?.view ?? "front",
    purpose: match?.purpose ?? "check",
    filmedOn: day > today ? today : day,
    why: match?.why ?? "",
    video: match?.video ?? true,
    state: "waiting",
    share: 0,
    trouble: "",
  };
}

export function sendable(row: ClipRow, chair: Chair | undefined): boolean {
  const complete = row.video && row.student !== "" && row.filmedOn !== "";
  return row.state === "waiting" && complete && mayBeFilmed(chair, row.filmedOn);
}
