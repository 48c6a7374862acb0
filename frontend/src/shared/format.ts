/** Figures and dates as they stand on a page. */

import units from "../../../sulvet/core/measures/data/units.json";
import { locale, t } from "./words";

/** "1 take", "2 takes": the plural forms of a noun stand in the tables of words. */
export function counted(count: number, one: string): string {
  return t(`{{count}} ${one}`, { count });
}

/** "Ada, Bo and Cy". */
export function listed(names: string[]): string {
  return new Intl.ListFormat(locale() ?? "en-GB", { type: "conjunction" }).format(names);
}

/** A name as it stands within a sentence: German nouns keep their capitals. */
export function inside(words: string): string {
  return locale() === undefined ? words.toLowerCase() : words;
}

/** A sentence that goes on after a colon: in English it begins small. */
export function continued(words: string): string {
  return locale() === undefined ? words.charAt(0).toLowerCase() + words.slice(1) : words;
}

/** Words in the quotation marks of the language. */
export function quoted(words: string): string {
  return t("“{{words}}”", { words });
}

/** So many decimals, with the decimal sign of the language. */
export function fixed(value: number, decimals: number): string {
  const sign = locale() === undefined ? "." : decimalSign(locale());
  return value.toFixed(decimals).replace(".", sign);
}

/** A minus sign as wide as a plus; none before a zero. */
export function figure(value: number, decimals: number): string {
  const zero = Number(value.toFixed(decimals)) === 0;
  return fixed(value, decimals).replace("-", zero ? "" : "−");
}

function decimalSign(language: string | undefined): string {
  const parts = new Intl.NumberFormat(language).formatToParts(0.5);
  return parts.find((part) => part.type === "decimal")?.value ?? ".";
}

const SIGNS: Record<string, string> = units.signs;

export function unitOf(unit: string): string {
  return SIGNS[unit] ?? ` ${unit}`;
}

export function measured(
  value: number,
  uncertainty: number,
  decimals: number,
  unit: string,
): string {
  return `${figure(value, decimals)} ± ${figure(uncertainty, decimals)}${unitOf(unit)}`;
}

export function day(iso: string): string {
  return new Date(`${iso}T12:00:00`).toLocaleDateString(locale(), {
    day: "numeric",
    month: "long",
    year: "numeric",
  });
}

/** Noon of a day, so that no time zone makes another day of it. */
export function noon(iso: string): number {
  return new Date(`${iso}T12:00:00`).getTime();
}

export function shortDay(at: number): string {
  return new Date(at).toLocaleDateString(locale(), { day: "numeric", month: "short" });
}

/** The day of a moment as the date fields want it, in the teacher's own time zone. */
export function dayOf(at: Date): string {
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
}

export function today(): string {
  return dayOf(new Date());
}

/** A note as musicians write it: F♯6, B♭4. */
export function pitchName(pitch: string): string {
  return pitch.replace("#", "♯").replace("b", "♭");
}
