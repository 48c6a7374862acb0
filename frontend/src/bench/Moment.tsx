/** A moment of the take to go to. */
import { Button } from "react-bootstrap";

export function Moment({
  at,
  words,
  goTo,
}: {
  at: number;
  words: string;
  goTo: (seconds: number) => void;
}) {
  return (
    <Button variant="link" className="p-0 me-2 align-baseline" onClick={() => goTo(at)}>
      {words}
    </Button>
  );
}
