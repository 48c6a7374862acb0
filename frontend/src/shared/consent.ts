/** Whether there is consent: the server decides; this says it before. */
import type { StudentFacts } from "../api/client";

type Consent = Pick<StudentFacts, "consent_on" | "consent_until">;

export function mayBeFilmed(student: Consent | undefined, day: string): boolean {
  const { consent_on = null, consent_until = null } = student ?? {};
  return consent_on !== null && consent_on <= day && day <= (consent_until ?? day);
}
