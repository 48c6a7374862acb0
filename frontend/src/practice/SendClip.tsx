/** What to film, send it, and whether it can be read. */
import { useCallback, useEffect, useRef, useState } from "react";
import {
  isLost,
  outgoing,
  sendClip,
  type Outgoing,
  type PhonePage,
  type Sent,
} from "../api/links";
import { day } from "../shared/format";
import { forgetClip, keepClip, keptClip } from "./pending";
import frontAway from "./pictures/front-away.jpg";
import frontForm from "./pictures/front-form.jpg";
import frontPlay from "./pictures/front-play.jpg";
import frontRest from "./pictures/front-rest.jpg";
import sideAway from "./pictures/side-away.jpg";
import sideForm from "./pictures/side-form.jpg";
import sidePlay from "./pictures/side-play.jpg";
import sideRest from "./pictures/side-rest.jpg";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

const PICTURES = {
  front: [frontRest, frontForm, frontPlay, frontAway],
  side: [sideRest, sideForm, sidePlay, sideAway],
};
const WORDS = [
  t("Face relaxed, lips closed. Two seconds."),
  t("Form your mouth."),
  t("Breathe, and play one tone for four counts."),
  t("Instrument away."),
];
const NO_CONNECTION = t(
  "There is no connection. The clip is kept on this phone and sent when there is one, or when you open this page again.",
);

export function SendClip({ token, asked }: { token: string; asked: PhonePage }) {
  const { share, sent, failed, send } = useSending(token, asked.piece);
  return (
    <>
      <p className="fs-5">
        {t(
          "{{instrument}}. {{how}} Mouth, nose and chin in the picture, light from the front.",
          {
            instrument: asked.instrument,
            how:
              asked.view === "side"
                ? t("Put the phone beside you, so that your nose points to the side.")
                : t("Put the phone in front of you and look straight into it."),
          },
        )}
      </p>
      <ol className="what-to-film">
        {PICTURES[asked.view].map((picture, n) => (
          <li key={picture}>
            <img src={picture} alt="" width={160} height={160} />
            <span>{WORDS[n]}</span>
          </li>
        ))}
      </ol>
      {sent && (
        <p role={sent.readable ? "status" : "alert"} className="fs-4 fw-semibold">
          {sent.readable ? t("Thank you. Everything is in the picture.") : sent.advice}
        </p>
      )}
      {failed && (
        <p role="alert" className="fs-5">
          {failed}
        </p>
      )}
      {share !== null ? (
        <div role="status">
          <p className="fs-4 mb-1">
            {share < 1
              ? t("Sending, {{share}} %", { share: Math.round(share * 100) })
              : t("Looking at the clip…")}
          </p>
          <progress value={share} max={1} aria-label={t("How much has been sent")} />
        </div>
      ) : (
        <label className="btn btn-primary btn-lg w-100">
          {sent || failed ? t("Film again") : t("Film")}
          <input
            type="file"
            accept="video/*"
            capture="user"
            className="visually-hidden"
            onChange={(event) => {
              const clip = event.target.files?.[0];
              if (clip) send(clip);
              event.target.value = "";
            }}
          />
        </label>
      )}
      <p className="kicker mt-3">
        <Rich
          text="Only your teacher sees the clip. The link is valid until {{until}}. A clip that reaches your teacher another way is found by its name: <span>{{file}}</span>."
          values={{ until: day(asked.until.slice(0, 10)), file: asked.file }}
          parts={{ span: <span className="text-nowrap" /> }}
        />
      </p>
    </>
  );
}

/** A clip on its way, also one that an earlier visit could not send. */
function useSending(token: string, piece: number) {
  const [share, setShare] = useState<number | null>(null);
  const [sent, setSent] = useState<Sent | null>(null);
  const [failed, setFailed] = useState("");
  const busy = useRef(false);
  const post = useCallback(
    async (clip: Outgoing) => {
      setSent(null);
      // Trying is for a connection that comes and goes: here the phone itself knows of none.
      setFailed(navigator.onLine ? "" : NO_CONNECTION);
      if (!navigator.onLine || busy.current) return;
      busy.current = true;
      setShare(0);
      try {
        const answer = await sendClip(token, clip, piece, setShare);
        await forgetClip(token);
        setSent(answer);
      } catch (error) {
        if (isLost(error)) setFailed(NO_CONNECTION);
        else {
          // Refused for good: keeping it would only try again.
          await forgetClip(token);
          setFailed(error instanceof Error ? error.message : t("Try again."));
        }
      }
      setShare(null);
      busy.current = false;
    },
    [token, piece],
  );
  useEffect(() => {
    const sendKept = () => void keptClip(token).then((kept) => kept && post(kept));
    sendKept();
    window.addEventListener("online", sendKept);
    return () => window.removeEventListener("online", sendKept);
  }, [token, post]);
  return {
    share,
    sent,
    failed,
    send: (file: File) => {
      const clip = outgoing(file);
      void keepClip(token, clip).then(() => post(clip));
    },
  };
}
