import { Button, Form } from "react-bootstrap";
import type { BandPage } from "../api/client";
import { useStandards } from "../api/queries";
import { ALL, WAITS, choices, type Filter } from "./filters";
import { t } from "../shared/words";

interface Props {
  sections: BandPage["sections"];
  filter: Filter;
  setFilter: (filter: Filter) => void;
  /** How many chairs fit. */
  left: number;
  /** What else stands on the line. */
  children: React.ReactNode;
}

export function BandFilters({ sections, filter, setFilter, left, children }: Props) {
  const standards = useStandards();
  const there = choices(
    sections,
    (one) => standards.data?.find((s) => s.instrument === one)?.name ?? one,
  );
  const set = (part: Partial<Filter>) => setFilter({ ...filter, ...part });
  const used = Object.values(filter).some(Boolean);
  return (
    <div className="band-filters d-flex gap-2 align-items-center flex-wrap mb-2" role="search">
      <Form.Control
        size="sm"
        type="search"
        className="find"
        aria-label={t("Find a student")}
        placeholder={t("Find a student")}
        value={filter.text}
        onChange={(event) => set({ text: event.target.value })}
      />
      <Choice
        label={t("All sections")}
        value={filter.section}
        options={there.sections}
        choose={(section) => set({ section })}
      />
      <Choice
        label={t("All instruments")}
        value={filter.instrument}
        options={there.instruments}
        choose={(instrument) => set({ instrument })}
      />
      <Choice
        label={t("Any focus")}
        value={filter.focus}
        options={there.foci}
        choose={(focus) => set({ focus })}
      />
      <Choice
        label={t("Any status")}
        value={filter.waits}
        options={Object.entries(WAITS)}
        choose={(waits) => set({ waits: waits as Filter["waits"] })}
      />
      {used && (
        <>
          <span className="figures">{t("{{left}} shown", { left })}</span>
          <Button variant="link" size="sm" className="p-0" onClick={() => setFilter(ALL)}>
            {t("Clear filters")}
          </Button>
        </>
      )}
      <span className="flex-fill" />
      {children}
    </div>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  choose: (value: string) => void;
}

function Choice({ label, value, options, choose }: ChoiceProps) {
  return (
    <Form.Select
      size="sm"
      className="w-auto"
      aria-label={label}
      value={value}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="">{label}</option>
      {options.map(([id, words]) => (
        <option key={id} value={id}>
          {words}
        </option>
      ))}
    </Form.Select>
  );
}
