/** One clip of a folder on its way in. */
import type { Chair } from "../api/client";
import type { ClipMatch } from "../api/records";
import { mayBeFilmed } from "../shared/consent";
import { dayOf } from "../shared/format";

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

/** As it is proposed; the day is the file's own when its name has none. */
export function rowOf(file: File, match: ClipMatch | undefined, today: string): ClipRow {
  const day = match?.filmed_on || dayOf(new Date(file.lastModified));
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
