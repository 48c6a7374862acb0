/** Two takes of a student in one face frame; what has changed in sentences; and the measure over
 * all takes. */
import { Link, useParams, useSearchParams } from "react-router";
import { useFreshTakes } from "../api/queries";
import { useThenAndNow } from "../api/records";
import { Refused, Trouble, Waiting } from "../shared/states";
import { useCalled } from "../shared/projector";
import { useVeil } from "../shared/veil";
import { Compared } from "./Compared";
import { PairHeading } from "./PairHeading";
import { TrendPanel } from "./TrendPanel";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

function numberOf(text: string | null): number | undefined {
  return text !== null && /^\d+$/.test(text) ? Number(text) : undefined;
}

export default function ThenNowScreen() {
  const student = Number(useParams().id);
  const veiled = useVeil();
  const called = useCalled();
  const [query, setQuery] = useSearchParams();
  const wanted = {
    then: numberOf(query.get("then")),
    now: numberOf(query.get("now")),
    phase: query.get("phase") ?? undefined,
    face: (query.get("face") === "1" && !veiled) || undefined,
  };
  const page = useThenAndNow(student, wanted);
  const measuring = useFreshTakes(page.data?.stale ?? []);
  const choose = (part: Record<string, string | null>) =>
    setQuery(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [name, value] of Object.entries(part)) {
          if (value === null) next.delete(name);
          else next.set(name, value);
        }
        return next;
      },
      { replace: true },
    );
  if (page.isPending) return <Waiting what={t("both takes")} />;
  if (page.isError && !page.data)
    return <Trouble error={page.error} retry={() => void page.refetch()} />;
  const { pair } = page.data;
  if (!pair && (measuring || page.data.stale.length > 0))
    return <Waiting what={t("both takes")} />;
  return (
    <main className="page then-now">
      <title>{t("Then and now – Sulvet")}</title>
      <PairHeading page={page.data} choose={choose} />
      <Refused error={page.error} />
      {pair ? (
        <Compared
          // Other takes or another letter begin with the frames proposed for them.
          key={`${pair.then.take}-${pair.now.take}-${pair.phase}`}
          pair={pair}
          name={page.data.name}
          face={wanted.face ?? false}
          choose={choose}
          trend={
            <TrendPanel
              key={pair.measures[0]}
              student={student}
              first={pair.measures[0] ?? "focus"}
            />
          }
        />
      ) : (
        <div className="py-5 text-center">
          <p className="fs-4 serif">{t("There are no two takes to compare yet.")}</p>
          <p className="faint">
            <Rich
              text="You need two analysed takes from the same side. <a>Upload the next clip of {{name}}.</a>"
              values={{ name: called(page.data.name) }}
              parts={{ a: <Link to={`/students/${student}`} /> }}
            />
          </p>
        </div>
      )}
    </main>
  );
}
