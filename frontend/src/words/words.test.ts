import { readFileSync, readdirSync } from "node:fs";
import { join } from "node:path";
import ts from "typescript";
import { afterAll, describe, expect, it } from "vitest";
import { counted } from "../shared/format";
import { speak, t } from "../shared/words";
import german from "./de.json";
import english from "./en.json";

const SOURCE = join(import.meta.dirname, "..");
/** Words of the interface's own lists that are said through a variable. */
const LISTED = ["front", "side", "sound", "found", "followed", "placed", "covered"];

/** Every sentence that the pages ask for. */
function asked(): Set<string> {
  const keys = new Set(LISTED);
  for (const name of readdirSync(SOURCE, { recursive: true, encoding: "utf8" })) {
    if (!/\.tsx?$/.test(name) || /\.(test|d)\.tsx?$/.test(name)) continue;
    const text = readFileSync(join(SOURCE, name), "utf8");
    const kind = name.endsWith("x") ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
    look(ts.createSourceFile(name, text, ts.ScriptTarget.Latest, true, kind));
  }
  return keys;

  function look(node: ts.Node): void {
    if (ts.isCallExpression(node)) {
      const [first, second] = node.arguments;
      const called = node.expression.getText();
      if (called === "t" && first && ts.isStringLiteralLike(first)) keys.add(first.text);
      if (called === "counted" && second && ts.isStringLiteralLike(second))
        keys.add(`{{count}} ${second.text}`);
    }
    if (ts.isJsxAttribute(node) && node.name.getText() === "text") {
      const given = node.initializer;
      const words = given && ts.isJsxExpression(given) ? given.expression : given;
      if (words && ts.isStringLiteralLike(words)) keys.add(words.text);
    }
    ts.forEachChild(node, look);
  }
}

/** What is filled in and what is marked up in a sentence. */
function parts(words: string): string[] {
  return (words.match(/\{\{\w+\}\}|<\/?\w+>/g) ?? []).sort();
}

const ONE_OR_MORE = /_(one|other)$/;

describe("the words of the interface", () => {
  const keys = asked();
  const bare = new Set(Object.keys(german).map((key) => key.replace(ONE_OR_MORE, "")));

  it("are all there in German, and no others", () => {
    expect([...keys].filter((key) => !bare.has(key))).toEqual([]);
    expect([...bare].filter((key) => !keys.has(key))).toEqual([]);
  });

  it("keep what is filled in and marked up", () => {
    for (const [key, words] of Object.entries(german)) {
      expect([key, parts(words)]).toEqual([key, parts(key)]);
      // Elements that are empty in HTML lose what stands in them.
      expect(key).not.toMatch(/<(link|source|track|input|img|area|base|col|meta)>/);
    }
  });

  it("have plural forms where they count", () => {
    const plural = (table: object) => Object.keys(table).filter((key) => ONE_OR_MORE.test(key));
    expect(plural(german)).toEqual(expect.arrayContaining(plural(english)));
    expect([counted(1, "take"), counted(2, "take")]).toEqual(["1 take", "2 takes"]);
  });
});

describe("another language", () => {
  afterAll(() => speak("en"));

  it("is spoken from when it is chosen, and English where there is none such", async () => {
    expect(t("Cancel")).toBe("Cancel");
    await speak("tlh");
    expect(t("Cancel")).toBe("Cancel");
    await speak("de");
    expect([t("Cancel"), counted(2, "take")]).toEqual(["Abbrechen", "2 Aufnahmen"]);
    expect(t("{{name}} is open now.", { name: "<b> & Co" })).toBe("<b> & Co ist jetzt offen.");
  });
});
