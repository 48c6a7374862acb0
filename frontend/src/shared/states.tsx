/** What a screen shows while it has nothing to show yet, or can't. */
import { Alert, Button } from "react-bootstrap";
import { Link } from "react-router";
import { t } from "./words";

export function Waiting({ what }: { what: string }) {
  return (
    <main className="page">
      <p role="status" className="faint">
        {t("Opening {{what}} …", { what })}
      </p>
    </main>
  );
}

export function Trouble({ error, retry }: { error: Error; retry?: () => void }) {
  return (
    <main className="page">
      <Alert variant="danger">
        <p>{error.message}</p>
        {retry && (
          <Button onClick={retry} className="me-3">
            {t("Try again")}
          </Button>
        )}
        <Link to="/">{t("Open the band")}</Link>
      </Alert>
    </main>
  );
}

/** A refusal beside the thing that was refused. */
export function Refused({ error }: { error: Error | null }) {
  return error ? (
    <Alert variant="danger" className="py-2 px-3 mb-2">
      {error.message}
    </Alert>
  ) : null;
}
