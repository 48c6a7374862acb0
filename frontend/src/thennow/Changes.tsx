/** What has changed between two takes, in sentences: the focus first. */
import { Link } from "react-router";
import type { Change, Pair } from "../api/records";
import { Glyph } from "../shared/glyphs";
import { firstName } from "../shared/projector";
import { slipAddress } from "../shared/slip";
import { t } from "../shared/words";

const SHAPES: Record<Change["answer"], string> = {
  "clearly better": "clear",
  "clearly worse": "focus",
  "clearly different": "watch",
  "no clear change": "same",
  "can't tell": "cant-tell",
};

export function Changes({ pair, name, face }: { pair: Pair; name: string; face: boolean }) {
  const first = pair.changes.filter((c) => c.focus);
  const others = pair.changes.filter((c) => !c.focus && c.answer !== "can't tell");
  const clear = others.filter((c) => c.answer !== "no clear change");
  const same = others.filter((c) => c.answer === "no clear change");
  return (
    <section aria-label={t("What has changed")}>
      <p className="kicker mb-1">
        {pair.focus_name
          ? `${pair.slip ? t("Focus") : t("Was the focus")}: ${pair.focus_name}`
          : t("No focus set")}
      </p>
      {first.map((change, n) => (
        <p
          key={change.measure}
          className={n === 0 ? "serif fs-3 lh-sm mb-2" : "mb-2"}
          data-answer={change.answer}
        >
          <Glyph shape={SHAPES[change.answer]} size={n === 0 ? 22 : 16} /> {change.sentence}
        </p>
      ))}
      {pair.focus !== null && first.length === 0 && (
        <p>
          {pair.seen_from.length === 0
            ? t("A camera can't measure this one. Tick what you hear and see on the Bench.")
            : t("It is visible from the {{views}}.", {
                views: pair.seen_from.map((view) => t(view)).join(t(" and the ")),
              })}
        </p>
      )}
      {clear.length > 0 && (
        <h2 className="h5 mt-3">
          {first.length > 0 ? t("Also changed") : t("Clearly changed")}
        </h2>
      )}
      <ul className="list-unstyled mb-2">
        {clear.map((change) => (
          <li key={change.measure} className="border-top py-1" data-answer={change.answer}>
            <Glyph shape={SHAPES[change.answer]} /> {change.sentence}
          </li>
        ))}
      </ul>
      {same.length > 0 && (
        <details>
          <summary>{t("No clear change in {{count}} more", { count: same.length })}</summary>
          <ul className="list-unstyled mb-0 mt-1">
            {same.map((change) => (
              <li key={change.measure} className="border-top py-1 faint">
                {change.sentence}
              </li>
            ))}
          </ul>
        </details>
      )}
      <p className="mt-3 mb-0">
        {pair.slip && (
          <a
            className="btn btn-primary btn-sm me-1"
            href={slipAddress(pair.now.take, face)}
            target="_blank"
            rel="noreferrer"
          >
            {t("Slip for {{name}}", { name: firstName(name) })}
          </a>
        )}
        <Link className="btn btn-outline-secondary btn-sm" to={`/takes/${pair.now.take}`}>
          {t("On the Bench")}
        </Link>
      </p>
    </section>
  );
}
