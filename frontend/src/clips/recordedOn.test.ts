import { describe, expect, it } from "vitest";
import { dayOfClip, recordedOn } from "./recordedOn";

/** Seconds from 1904, where the format counts from, to 1970. */
const FROM_1904 = 2_082_844_800;

/** A box as in ISO/IEC 14496-12, 4.2: length, kind, content. */
function box(kind: string, content: Uint8Array): Uint8Array {
  const made = new Uint8Array(8 + content.length);
  new DataView(made.buffer).setUint32(0, made.length);
  made.set(new TextEncoder().encode(kind), 4);
  made.set(content, 8);
  return made;
}

/** A film as phones write it: what it says of itself stands behind all pictures. */
function film(seconds: number): File {
  const head = new Uint8Array(100);
  const fields = new DataView(head.buffer);
  fields.setUint32(4, seconds);
  fields.setUint32(12, 600);
  fields.setUint32(96, 1);
  const parts = [
    box("ftyp", new TextEncoder().encode("isom\0\0\0\0isom")),
    box("mdat", new Uint8Array(700_000)),
    box("moov", box("mvhd", head)),
  ];
  const bytes = new Uint8Array(parts.flatMap((part) => [...part]));
  return new File([bytes], "a.mp4", { lastModified: Date.parse("2026-11-20T12:00:00Z") });
}

describe("the day a clip was recorded", () => {
  it("is the camera's, not that of a copy", async () => {
    const clip = film(FROM_1904 + Date.parse("2026-11-03T12:00:00Z") / 1000);
    expect(await recordedOn(clip)).toBe("2026-11-03");
    expect(await dayOfClip(clip)).toBe("2026-11-03");
  });

  it("is the file's where the camera had no clock, or it is another kind of file", async () => {
    expect(await dayOfClip(film(0))).toBe("2026-11-20");
    const other = new File(["no film"], "a.webm", {
      lastModified: Date.parse("2026-11-21T12:00"),
    });
    expect(await dayOfClip(other)).toBe("2026-11-21");
  });
});
