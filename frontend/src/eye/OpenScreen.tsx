/** A round for whoever has its address: nobody is logged in, and nothing is kept. */
import { useState } from "react";
import { Button } from "react-bootstrap";
import { useOpenRound, type Said } from "../api/eye";
import { Waiting } from "../shared/states";
import { Judging } from "./Judging";

export default function OpenScreen({ token }: { token: string }) {
  const { round, say } = useOpenRound(token);
  const [said, setSaid] = useState<Said[]>([]);
  if (round.isPending) return <Waiting what="the round" />;
  return (
    <main className="page eye" id="content">
      <title>Practise your eye – Sulvet</title>
      {round.isError ? (
        <>
          <h1>This address does not work</h1>
          <p className="fs-5">{round.error.message}</p>
        </>
      ) : (
        <>
          <h1>{round.data.instrument}: what do you see?</h1>
          <p className="faint">
            Twelve made-up students. Say what is wrong, if anything is. Nothing is kept.
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
                Again
              </Button>
            }
          />
        </>
      )}
    </main>
  );
}
