/** A round for whoever has its address: nobody is logged in, and nothing is kept. */
import { useState } from "react";
import { Button } from "react-bootstrap";
import { useOpenRound, type Said } from "../api/eye";
import { Waiting } from "../shared/states";
import { Judging } from "./Judging";
import { t } from "../shared/words";

export default function OpenScreen({ token }: { token: string }) {
  const { round, say } = useOpenRound(token);
  const [said, setSaid] = useState<Said[]>([]);
  if (round.isPending) return <Waiting what={t("the round")} />;
  return (
    <main className="page eye" id="content">
      <title>{t("Practise your eye – Sulvet")}</title>
      {round.isError ? (
        <>
          <h1>{t("This address does not work")}</h1>
          <p className="fs-5">{round.error.message}</p>
        </>
      ) : (
        <>
          <h1>
            {t("{{instrument}}: what do you see?", { instrument: round.data.instrument })}
          </h1>
          <p className="faint">
            {t("Twelve made-up students. Say what is wrong, if anything is. Nothing is kept.")}
          </p>
          <Judging
            items={round.data.items}
            summary={round.data.summary}
            say={(one) => {
              const all = [...said, one];
              setSaid(all);
              say.mutate(all);
            }}
            waiting={say.isPending}
            error={say.error}
            after={
              <Button size="lg" onClick={() => window.location.reload()}>
                {t("Again")}
              </Button>
            }
          />
        </>
      )}
    </main>
  );
}
