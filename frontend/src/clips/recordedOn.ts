/** On which day a clip was recorded, by what its camera wrote into it. */
import { dayOf } from "../shared/format";

/** Bytes that are read at a time; the heads of an MP4 are far smaller. */
const PIECE = 2 ** 18;
/** Cameras without a clock write 1904 or 1970. */
const FIRST_YEAR = 2000;

/** The day of a clip: the camera's, else that of the file, which may be that of a copy. */
export async function dayOfClip(file: File): Promise<string> {
  return (await recordedOn(file)) || dayOf(new Date(file.lastModified));
}

/** The day as ISO text in this computer's time zone; empty where the file says none.
 *
 * Only the MP4 and QuickTime files that phones write say it (ISO/IEC 14496-12, 8.2.2).
 */
export async function recordedOn(file: Blob): Promise<string> {
  const { createFile, MP4BoxBuffer } = await import("mp4box");
  const boxes = createFile(false);
  let made: Date | undefined;
  boxes.onReady = (movie) => (made = movie.created);
  try {
    // It says where to read on, past pictures and sound, until it has seen the heads.
    for (let at = 0; at < file.size && !made;) {
      const piece = await file.slice(at, at + PIECE).arrayBuffer();
      const next = boxes.appendBuffer(MP4BoxBuffer.fromArrayBuffer(piece, at));
      if (next === undefined || next <= at) break;
      at = next;
    }
  } catch {
    return ""; // not such a file: the server says what it is
  }
  return made && made.getFullYear() >= FIRST_YEAR ? dayOf(made) : "";
}
