/** A measure over all takes of a student. The chart is heavy: it comes when it is wanted. */
import { lazy, Suspense, useState } from "react";
import { Form } from "react-bootstrap";
import { useTrend } from "../api/records";
import { MeasureName } from "../shared/explain";
import { t } from "../shared/words";

const TrendChart = lazy(() => import("./TrendChart"));

/** `first`: the measure to begin with; "focus" leaves it to what is worked on. */
export function TrendPanel({ student, first }: { student: number; first: string }) {
  const [chosen, choose] = useState(first);
  const trend = useTrend(student, chosen);
  if (!trend.data || trend.data.measures.length === 0) return null;
  const { data } = trend;
  return (
    <section aria-labelledby="trend-title" className="trend border-top mt-3 pt-2">
      <div className="d-flex align-items-baseline gap-2 mb-1">
        <h2 id="trend-title" className="h5 mb-0 text-nowrap">
          {t("All takes")}
        </h2>
        <Form.Select
          size="sm"
          aria-label={t("Measure")}
          value={data.measure}
          onChange={(event) => choose(event.target.value)}
        >
          {data.measures.map((m) => (
            <option key={m.measure} value={m.measure}>
              {m.name}
            </option>
          ))}
        </Form.Select>
        {data.measure && (
          <MeasureName measure={data.measure}>
            <span className="text-nowrap">{t("What is this?")}</span>
          </MeasureName>
        )}
      </div>
      <Suspense fallback={<p className="faint">{t("Drawing …")}</p>}>
        <TrendChart trend={data} />
      </Suspense>
    </section>
  );
}
