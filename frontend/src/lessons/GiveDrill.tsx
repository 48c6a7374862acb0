/** Giving a drill or a routine to students: with stage, level, rounds, tempo and days. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useGiven, useLibrary, type Give } from "../api/lessons";
import { counted } from "../shared/format";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { t } from "../shared/words";

const STAGES = {
  lips: t("lips alone"),
  mouthpiece: t("mouthpiece, head joint or reed"),
  instrument: "instrument",
} as const;

/** As the server calls the levels of a drill. */
const LEVELS = [t("Beginner"), t("Intermediate"), t("Advanced"), t("Mastery")];

interface Props {
  students: number[];
  /** What is chosen to begin with. */
  first?: { drill?: string; routine?: string };
}

export function GiveDrill({ students, first = {} }: Props) {
  const library = useLibrary();
  const { give } = useGiven();
  const [what, setWhat] = useState(
    first.routine ? `routine:${first.routine}` : first.drill ? `drill:${first.drill}` : "",
  );
  const [stage, setStage] = useState<Give["stage"]>("");
  const [level, setLevel] = useState(0);
  const [rounds, setRounds] = useState("");
  const [tempo, setTempo] = useState("");
  const [days, setDays] = useState(7);
  if (!library.data) return null;
  const [kind, id = ""] = what.split(":");
  const drill = kind === "drill" ? library.data.drills.find((one) => one.id === id) : undefined;
  const at = drill && (stage && drill.stages.includes(stage) ? stage : drill.stage);
  return (
    <Form
      className="give-drill"
      aria-label={t("Give an exercise")}
      onSubmit={(event) => {
        event.preventDefault();
        give.mutate(
          {
            students,
            drill: drill ? id : "",
            routine: kind === "routine" ? id : "",
            stage: at ?? "",
            level: drill && level <= drill.levels.length ? level : 0,
            rounds: rounds ? Number(rounds) : null,
            tempo: tempo ? Number(tempo) : null,
            days,
          },
          {
            onSuccess: (made) => {
              tell(t("Given to {{student}}.", { student: counted(made.length, "student") }));
              if (!first.drill && !first.routine) setWhat("");
            },
          },
        );
      }}
    >
      <h3 className="h5">{t("Give an exercise")}</h3>
      <Refused error={give.error} />
      <Form.Select
        required
        aria-label={t("Drill or routine")}
        className="mb-2"
        value={what}
        onChange={(event) => setWhat(event.target.value)}
      >
        <option value="">{t("Choose a drill or a routine …")}</option>
        <optgroup label={t("Routines")}>
          {library.data.routines.map((one) => (
            <option key={one.id} value={`routine:${one.id}`}>
              {one.name}
            </option>
          ))}
        </optgroup>
        <optgroup label={t("Drills")}>
          {library.data.drills.map((one) => (
            <option key={one.id} value={`drill:${one.id}`}>
              {one.name}
            </option>
          ))}
        </optgroup>
      </Form.Select>
      {drill && (
        <div className="d-flex flex-wrap gap-2 mb-2">
          <Form.Select
            className="w-auto"
            aria-label={t("Stage")}
            value={at}
            onChange={(event) => setStage(event.target.value as Give["stage"])}
          >
            {drill.stages.map((one) => (
              <option key={one} value={one}>
                {STAGES[one]}
              </option>
            ))}
          </Form.Select>
          {drill.levels.length > 0 && (
            <Form.Select
              className="w-auto"
              aria-label={t("Level")}
              value={level}
              onChange={(event) => setLevel(Number(event.target.value))}
            >
              <option value={0}>{t("any level")}</option>
              {drill.levels.map((words, n) => (
                <option key={words} value={n + 1}>
                  {LEVELS[n]}: {words}
                </option>
              ))}
            </Form.Select>
          )}
        </div>
      )}
      {what && (
        <div className="d-flex flex-wrap gap-2 mb-2">
          {(
            [
              ["rounds", t("Rounds"), rounds, setRounds, 1, 20],
              ["tempo", t("Tempo"), tempo, setTempo, 30, 160],
            ] as const
          ).map(([name, label, value, set, min, max]) => (
            <Form.Group key={name} controlId={`give-${name}`} className="small-field">
              <Form.Label className="mb-0">{label}</Form.Label>
              <Form.Control
                type="number"
                min={min}
                max={max}
                placeholder={t("usual")}
                value={value}
                onChange={(event) => set(event.target.value)}
              />
            </Form.Group>
          ))}
          <Form.Group controlId="give-days" className="small-field">
            <Form.Label className="mb-0">{t("Days")}</Form.Label>
            <Form.Control
              type="number"
              min={1}
              max={60}
              required
              value={days}
              onChange={(event) => setDays(Number(event.target.value))}
            />
          </Form.Group>
        </div>
      )}
      <Button type="submit" disabled={!what || students.length === 0 || give.isPending}>
        {t("Give to {{student}}", { student: counted(students.length, "student") })}
      </Button>
    </Form>
  );
}
