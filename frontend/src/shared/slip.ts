/** Where a slip is: on the paper of the place, the mouth alone unless the face is wanted. */

/** Where US Letter lies in the printers. */
const LETTER = ["US", "CA", "MX", "PH", "CL", "CO", "VE"];

export function paperOf(language: string): "letter" | "a4" {
  const region = new Intl.Locale(language).maximize().region ?? "";
  // A language without a region says nothing of the paper.
  return language.includes("-") && LETTER.includes(region) ? "letter" : "a4";
}

function wishes(face: boolean): string[] {
  // What the teacher has set in the settings goes before it.
  const paper = paperOf(navigator.language);
  return [...(paper === "letter" ? ["paper=letter"] : []), ...(face ? ["face=1"] : [])];
}

function joined(address: string, parts: string[]): string {
  return parts.length > 0 ? `${address}?${parts.join("&")}` : address;
}

export function slipAddress(take: number, face = false): string {
  return joined(`/api/takes/${take}/slip.pdf`, wishes(face));
}

/** A class set: of these students, or of the whole band without naming anybody. */
export function slipsAddress(students: number[] | null): string {
  const named = students === null ? [] : [`students=${students.join(",")}`];
  return joined("/api/slips.pdf", [...named, ...wishes(false)]);
}
