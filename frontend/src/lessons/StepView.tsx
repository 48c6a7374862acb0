/** One step of the ladder: what to do, say and look at. */
import { quoted } from "../shared/format";
import type { StepCard } from "../api/lessons";
import { NoteButton } from "../shared/NoteButton";
import { DrillView } from "./DrillView";
import { t } from "../shared/words";

export function StepView({ step }: { step: StepCard }) {
  return (
    <article className="step-card" aria-label={step.name}>
      <h2>{step.name}</h2>
      <p className="do serif">{step.do}</p>
      <p className="say serif">{quoted(step.say)}</p>
      <dl>
        <dt>{t("Look")}</dt>
        <dd>{step.look}</dd>
        <dt>{t("Usual mistake")}</dt>
        <dd>
          {step.mistake} <strong>{step.remedy}</strong>
        </dd>
        <dt>{t("Passed when")}</dt>
        <dd>{step.passes}</dd>
      </dl>
      {step.caution && <p className="caution">{step.caution}</p>}
      {step.targets.length > 0 && (
        <p className="d-flex flex-wrap gap-2 align-items-center">
          <span className="kicker">{t("Notes to aim at, any of them is right:")}</span>
          {step.targets.map((t) => (
            <NoteButton
              key={`${t.stage} ${t.pitch} ${t.words}`}
              pitch={t.pitch}
              hz={t.hz}
              words={t.words || t.stage_words}
            />
          ))}
        </p>
      )}
      <DrillView drill={step.drill} />
    </article>
  );
}
