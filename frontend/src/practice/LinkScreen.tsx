/** What a link on a phone opens: the student's page where the teacher has opened it, else what to
 * film. */
import { useEffect } from "react";
import { Button } from "react-bootstrap";
import { Refusal } from "../api/client";
import { useAsked } from "../api/links";
import { Waiting } from "../shared/states";
import { forgetPage } from "./offline";
import { PracticeScreen } from "./PracticeScreen";
import { SendClip } from "./SendClip";
import { t } from "../shared/words";

export default function LinkScreen({ token }: { token: string }) {
  const asked = useAsked(token);
  const over = asked.error instanceof Refusal && asked.error.status === 400;
  useEffect(() => {
    if (over) void forgetPage(token);
  }, [over, token]);
  if (asked.isPending) return <Waiting what={t("the page")} />;
  if (asked.isError)
    return (
      <main className="phone">
        <title>{t("Sulvet")}</title>
        <h1>{over ? t("This link does not work") : t("No connection")}</h1>
        <p className="fs-5">{asked.error.message}</p>
        {!over && <Button onClick={() => void asked.refetch()}>{t("Try again")}</Button>}
      </main>
    );
  if (asked.data.page) return <PracticeScreen token={token} asked={asked.data} />;
  return (
    <main className="phone">
      <title>{t("Film for Sulvet")}</title>
      <h1>{t("Hello, {{name}}", { name: asked.data.name })}</h1>
      <SendClip token={token} asked={asked.data} />
    </main>
  );
}
