/** Who shares a focus: groups and their turns for a rehearsal. */
import { quoted } from "../shared/format";
import { useState } from "react";
import { Form } from "react-bootstrap";
import { Link } from "react-router";
import { useSectionals, type Sectionals, type SectionalsWishes } from "../api/records";
import { useCalled } from "../shared/projector";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

const FIELDS: [keyof SectionalsWishes, string, number, number][] = [
  ["days", t("Takes from last … days"), 1, 366],
  ["least", t("Min students"), 1, 30],
  ["most", t("Max students"), 1, 30],
  ["minutes", t("Minutes per group"), 1, 60],
  ["total", t("Minutes in total"), 1, 300],
  ["stations", t("Rooms"), 1, 10],
];

const FIRST: SectionalsWishes = {
  days: 14,
  least: 2,
  most: 4,
  minutes: 8,
  total: 40,
  stations: 1,
};
const KEPT = "sulvet-sectionals";

/** What this teacher set last; what is not a number any more counts as never set. */
function kept(): SectionalsWishes {
  try {
    const said = JSON.parse(localStorage.getItem(KEPT) ?? "{}") as Partial<SectionalsWishes>;
    const good = Object.entries(said).filter(([, value]) => Number.isInteger(value));
    return { ...FIRST, ...Object.fromEntries(good) };
  } catch {
    return FIRST;
  }
}

export default function SectionalsScreen() {
  const [wishes, setWishes] = useState(kept);
  const sectionals = useSectionals(wishes);
  const set = (part: Partial<SectionalsWishes>) => {
    const next = { ...wishes, ...part };
    localStorage.setItem(KEPT, JSON.stringify(next));
    setWishes(next);
  };
  const table = new URLSearchParams(
    Object.entries(wishes).map(([name, value]) => [name, String(value)]),
  );
  const groups = sectionals.data?.groups ?? [];
  return (
    <main className="page sectionals">
      <title>{t("Sectionals – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3">
        <h1 className="mb-0">{t("Sectionals")}</h1>
        <span className="faint">{t("Groups students with the same focus")}</span>
        <span className="flex-fill" />
        <button
          type="button"
          className="btn btn-sm btn-outline-secondary no-print"
          onClick={() => window.print()}
        >
          {t("Print")}
        </button>
        <a
          className="btn btn-sm btn-outline-secondary no-print"
          href={`/api/sectionals.csv?${table.toString()}`}
        >
          {t("Export CSV")}
        </a>
      </div>
      <div className="wishes no-print">
        {FIELDS.map(([name, words, min, max]) => (
          <Form.Group key={name} controlId={`wish-${name}`}>
            <Form.Label>{words}</Form.Label>
            <Form.Control
              type="number"
              size="sm"
              className="figures"
              min={min}
              max={max}
              value={wishes[name]}
              onChange={(event) => {
                const value = Math.round(Number(event.target.value));
                if (value >= min && value <= max) set({ [name]: value });
              }}
            />
          </Form.Group>
        ))}
      </div>
      <Refused error={sectionals.error} />
      {sectionals.isSuccess && groups.length === 0 && sectionals.data.singles.length === 0 && (
        <p className="py-4 fs-5 serif">
          {t(
            "Nobody has a focus in the last {{days}} days. Review the waiting takes, or include older ones.",
            { days: wishes.days },
          )}
        </p>
      )}
      <Rotation groups={groups} stations={wishes.stations} />
      <Left groups={groups} />
      <Singles singles={sectionals.data?.singles ?? []} />
    </main>
  );
}

type Group = Sectionals["groups"][number];

function Rotation({ groups, stations }: { groups: Group[]; stations: number }) {
  const turns = groups.filter((group) => group.start !== null);
  const starts = [...new Set(turns.map((group) => group.start as number))];
  if (turns.length === 0) return null;
  return (
    <div className="rotation" style={{ "--rooms": stations } as React.CSSProperties}>
      {starts.map((start) => {
        const now = turns.filter((group) => group.start === start);
        return (
          <div key={start} className="turn">
            <div className="when figures">
              <span className="serif fs-3">{start}</span>
              <span className="kicker"> {t("to {{end}} min", { end: now[0]?.end })}</span>
            </div>
            {now.map((group) => (
              <GroupCard key={group.number} group={group} rooms={stations} />
            ))}
          </div>
        );
      })}
    </div>
  );
}

function GroupCard({ group, rooms }: { group: Group; rooms: number }) {
  const called = useCalled();
  return (
    <section
      className="group"
      aria-label={t("Group {{number}}: {{focus}}", {
        number: group.number,
        focus: group.focus,
      })}
    >
      <h2 className="h4 mb-1">{group.focus}</h2>
      <p className="kicker mb-2">
        {rooms > 1 && t("Room {{station}}. ", { station: group.station })}
        {group.drill}: {quoted(group.child)}
      </p>
      <ul className="list-unstyled mb-0">
        {group.members.map((member) => (
          <li key={member.student}>
            <Link to={`/students/${member.student}`}>{called(member.name)}</Link>
            <span className="kicker">, {member.section}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Those for whom there is no time today: they are first next time. */
function Left({ groups }: { groups: Group[] }) {
  const called = useCalled();
  const left = groups.filter((group) => group.start === null);
  if (left.length === 0) return null;
  return (
    <section className="border-top pt-2 mt-3">
      <h2 className="h5">{t("No time today")}</h2>
      <p className="mb-0">
        {t("{{groups}}. Allow more minutes, shorter turns or another room.", {
          groups: left
            .map(
              (group) =>
                `${group.focus}: ${group.members.map((m) => called(m.name)).join(", ")}`,
            )
            .join("; "),
        })}
      </p>
    </section>
  );
}

/** Those whose focus too few others share for a group. */
function Singles({ singles }: { singles: Sectionals["singles"] }) {
  const called = useCalled();
  if (singles.length === 0) return null;
  return (
    <section className="border-top pt-2 mt-3" aria-labelledby="singles-title">
      <h2 className="h5" id="singles-title">
        {t("Single lessons")}
      </h2>
      <ul className="list-unstyled mb-0">
        {singles.map((one) => (
          <li key={one.student}>
            <Link to={`/students/${one.student}`}>{called(one.name)}</Link>
            <span className="kicker">
              , {one.section}: {one.focus}, {one.drill}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
