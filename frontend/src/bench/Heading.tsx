/** Whose take this is, what was done, and on to the next. */
import { viewWords } from "../shared/views";
import { Button } from "react-bootstrap";
import { Link } from "react-router";
import type { BenchPage } from "../api/client";
import { inside, noon, shortDay } from "../shared/format";
import { firstName, useCalled } from "../shared/projector";
import { slipAddress } from "../shared/slip";
import type { TakeQueue } from "./takeQueue";
import { redo, undo } from "./benchKeys";
import type { BenchState } from "./useBench";
import { t } from "../shared/words";

interface Props {
  page: BenchPage;
  bench: BenchState;
  queue: TakeQueue;
}

export function Heading({ page, bench, queue }: Props) {
  const { take } = page;
  const { edits } = bench;
  const called = useCalled();
  const done = () => edits.send({ kind: "read", read: true }, { onSuccess: queue.on });
  return (
    <div className="heading">
      <h1>
        <Link to={`/students/${take.student}`} className="text-body text-decoration-none">
          {called(page.student_name)}
        </Link>
      </h1>
      <span className="faint text-truncate facts">
        {page.instrument}, {viewWords(take.view)}, {shortDay(noon(take.filmed_on))};{" "}
        {inside(page.school)}
      </span>
      <span role="status" className="faint text-nowrap">
        {edits.lost ? (
          <strong className="lost">
            {t("Not saved yet: can't reach Sulvet. {{waiting}} to send.", {
              waiting: edits.waiting,
            })}
          </strong>
        ) : edits.waiting > 0 ? (
          t("Measuring again …")
        ) : (
          ""
        )}
      </span>
      <div className="btn-group btn-group-sm">
        <Button
          variant="outline-secondary"
          disabled={page.undo === null}
          title={page.undo ? t("Undo: {{undo}}", { undo: page.undo }) : t("Nothing to undo")}
          onClick={() => undo(page, bench)}
        >
          {t("Undo")}
        </Button>
        <Button
          variant="outline-secondary"
          disabled={page.redo === null}
          title={page.redo ? t("Redo: {{redo}}", { redo: page.redo }) : t("Nothing to redo")}
          onClick={() => redo(page, bench)}
        >
          {t("Redo")}
        </Button>
      </div>
      {queue.hasBefore && (
        <Button size="sm" variant="outline-secondary" onClick={queue.back}>
          {t("Previous")}
        </Button>
      )}
      {take.state === "ready" && (
        <>
          <Link
            className="btn btn-sm btn-outline-secondary"
            to={`/students/${take.student}/then-and-now?now=${take.id}`}
          >
            {t("Then and now")}
          </Link>
          {page.focus.fault !== null && (
            <a
              className="btn btn-sm btn-outline-secondary"
              href={slipAddress(take.id)}
              target="_blank"
              rel="noreferrer"
            >
              {t("Slip")}
            </a>
          )}
          <Button
            size="sm"
            variant="outline-secondary"
            aria-pressed={take.read}
            onClick={() => edits.send({ kind: "read", read: !take.read })}
          >
            {take.read ? t("Reviewed ✓") : t("Mark as reviewed")}
          </Button>
          <Button size="sm" onClick={done}>
            {queue.nextName
              ? t("Done, next: {{nextName}}", { nextName: firstName(queue.nextName) })
              : t("Done, open the band")}
          </Button>
        </>
      )}
    </div>
  );
}
