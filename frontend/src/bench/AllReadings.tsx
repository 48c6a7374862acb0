/** Every reading of a take in one table. */
import { phaseWords } from "../shared/phases";
import type { BenchPage } from "../api/client";
import { measured } from "../shared/format";
import { MeasureName } from "../shared/explain";
import { Verdict } from "../shared/glyphs";
import { t } from "../shared/words";

export function AllReadings({ page }: { page: BenchPage }) {
  if (page.readings.length === 0) return null;
  return (
    <details className="finding">
      <summary>{t("All readings")}</summary>
      <table className="table table-sm figures mt-2 mb-0">
        <thead>
          <tr>
            <th scope="col">{t("Measure")}</th>
            <th scope="col">{t("Value")}</th>
            <th scope="col">{t("Verdict")}</th>
          </tr>
        </thead>
        <tbody>
          {page.readings.map((r) => (
            <tr key={`${r.measure} ${r.phase}`} data-reading={r.measure}>
              <th scope="row" className="fw-normal">
                <MeasureName measure={r.measure}>{r.name}</MeasureName>
                <span className="faint">, {phaseWords(r.phase)}</span>
              </th>
              <td className="text-nowrap">
                {r.value === null || r.uncertainty === null
                  ? t("none")
                  : measured(r.value, r.uncertainty, r.decimals, r.unit)}
                {r.worst && (
                  <span className="kicker d-block">
                    {t("over {{of}} holds; farthest out in hold {{nth}}: {{value}}", {
                      of: r.worst.of,
                      nth: r.worst.nth,
                      value: measured(r.worst.value, r.worst.uncertainty, r.decimals, r.unit),
                    })}
                  </span>
                )}
              </td>
              <td title={r.reason}>
                <Verdict verdict={r.verdict} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="kicker mt-2 mb-0">
        {t(
          "Standard {{standard}}. Values are changes from this student's own relaxed face, ± their 95 % uncertainty.",
          { standard: page.standard },
        )}
      </p>
    </details>
  );
}
