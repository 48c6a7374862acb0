/** A measure over all takes of a student. The chart is heavy: it comes when it is wanted. */
import { lazy, Suspense, useState } from "react";
import { Form } from "react-bootstrap";
import { useTrend } from "../api/records";

const TrendChart = lazy(() => import("./TrendChart"));

export function TrendPanel({ student }: { student: number }) {
  const [chosen, choose] = useState("focus");
  const trend = useTrend(student, chosen);
  if (!trend.data || trend.data.measures.length === 0) return null;
  const { data } = trend;
  return (
    <section aria-labelledby="trend-title" className="trend border-top mt-3 pt-2">
      <div className="d-flex align-items-baseline gap-3">
        <h2 id="trend-title" className="h4 mb-0">
          Over all takes
        </h2>
        <Form.Select
          size="sm"
          className="w-auto"
          aria-label="Measure"
          value={data.measure}
          onChange={(event) => choose(event.target.value)}
        >
          {data.measures.map((m) => (
            <option key={m.measure} value={m.measure}>
              {m.name}
            </option>
          ))}
        </Form.Select>
        <span className="kicker text-truncate">{data.explains}</span>
      </div>
      <Suspense fallback={<p className="faint">Drawing …</p>}>
        <TrendChart trend={data} />
      </Suspense>
    </section>
  );
}
