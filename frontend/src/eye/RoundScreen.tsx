/** A round of the teacher's own. */
import { Button } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { useEyeEdits, useEyeRound, type EyeRound } from "../api/eye";
import { Trouble, Waiting } from "../shared/states";
import { Judging } from "./Judging";
import { t } from "../shared/words";

export default function RoundScreen() {
  const id = Number(useParams().id);
  const round = useEyeRound(id);
  if (round.isPending) return <Waiting what={t("the round")} />;
  if (round.isError) return <Trouble error={round.error} />;
  return <Round key={id} round={round.data} />;
}

function Round({ round }: { round: EyeRound }) {
  const { say, begin } = useEyeEdits();
  const go = useNavigate();
  return (
    <main className="page eye" id="content">
      <title>{t("Practise your eye – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-baseline gap-3">
        <h1>{round.instrument}</h1>
        <span className="fs-5 faint">{round.level}</span>
        <span className="flex-fill" />
        <Link to="/eye">{t("Leave the round")}</Link>
      </div>
      <Judging
        items={round.items}
        summary={round.summary}
        say={(said) => say.mutate({ round: round.id, said })}
        waiting={say.isPending}
        error={say.error ?? begin.error}
        after={
          <Button size="lg" onClick={() => void go("/eye")}>
            {t("To your scores")}
          </Button>
        }
      />
    </main>
  );
}
