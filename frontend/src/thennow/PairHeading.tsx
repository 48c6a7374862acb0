/** Which two takes are compared, in which letter. */
import { phaseWords } from "../shared/phases";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import type { ThenAndNow } from "../api/records";
import { noon, shortDay } from "../shared/format";
import { useCalled } from "../shared/projector";
import { t } from "../shared/words";

/** Sets parts of the page's address; null takes one away. */
export type Choose = (part: Record<string, string | null>) => void;

export function PairHeading({ page, choose }: { page: ThenAndNow; choose: Choose }) {
  const { pair } = page;
  const called = useCalled();
  const alike = page.takes.filter((t) => t.view === pair?.view);
  const at = (id: number) => alike.findIndex((t) => t.id === id);
  return (
    <div className="d-flex align-items-baseline gap-3 flex-wrap mb-2">
      <h1 className="mb-0">
        <Link to={`/students/${page.student}`} className="text-body text-decoration-none">
          {called(page.name)}
        </Link>
      </h1>
      <span className="faint serif fs-4">{t("then and now")}</span>
      <span className="flex-fill" />
      {pair && (
        <>
          {(["front", "side"] as const).every((view) =>
            page.takes.some((t) => t.view === view),
          ) && (
            <Form.Select
              size="sm"
              className="w-auto"
              aria-label={t("View")}
              value={pair.view}
              onChange={(event) => {
                const newest = page.takes.find((t) => t.view === event.target.value);
                choose({ then: null, now: String(newest?.id), phase: null });
              }}
            >
              <option value="front">{t("From the front")}</option>
              <option value="side">{t("From the side")}</option>
            </Form.Select>
          )}
          <TakeChoice
            label={t("Then")}
            value={pair.then.take}
            takes={alike.filter((t) => at(t.id) > at(pair.now.take))}
            choose={(id) => choose({ then: id, now: String(pair.now.take) })}
          />
          <TakeChoice
            label={t("Now")}
            value={pair.now.take}
            takes={alike.filter((t) => at(t.id) < at(pair.then.take))}
            choose={(id) => choose({ then: String(pair.then.take), now: id })}
          />
          {pair.phases.length > 1 && (
            <label className="d-flex gap-2 align-items-baseline">
              {t("Phase")}
              <Form.Select
                size="sm"
                value={pair.phase}
                onChange={(event) => choose({ phase: event.target.value })}
              >
                {pair.phases.map((phase) => (
                  <option key={phase} value={phase}>
                    {phaseWords(phase)}
                  </option>
                ))}
              </Form.Select>
            </label>
          )}
        </>
      )}
    </div>
  );
}

interface TakeChoiceProps {
  label: string;
  value: number;
  takes: ThenAndNow["takes"];
  choose: (id: string) => void;
}

function TakeChoice({ label, value, takes, choose }: TakeChoiceProps) {
  return (
    <label className="d-flex gap-2 align-items-baseline">
      {label}
      <Form.Select size="sm" value={value} onChange={(event) => choose(event.target.value)}>
        {takes.map((take) => (
          <option key={take.id} value={take.id}>
            {shortDay(noon(take.filmed_on))}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}
