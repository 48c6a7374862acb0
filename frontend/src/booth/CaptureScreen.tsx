/** The page of a capture link on a phone: what to film, send it, and whether it can be read. */
import { useState } from "react";
import { sendClip, useAsked, type PhonePage, type Sent } from "../api/links";
import { Waiting } from "../shared/states";
import { day } from "../shared/format";
import frontAway from "./pictures/front-away.jpg";
import frontForm from "./pictures/front-form.jpg";
import frontPlay from "./pictures/front-play.jpg";
import frontRest from "./pictures/front-rest.jpg";
import sideAway from "./pictures/side-away.jpg";
import sideForm from "./pictures/side-form.jpg";
import sidePlay from "./pictures/side-play.jpg";
import sideRest from "./pictures/side-rest.jpg";

const PICTURES = {
  front: [frontRest, frontForm, frontPlay, frontAway],
  side: [sideRest, sideForm, sidePlay, sideAway],
};
const WORDS = [
  "Face relaxed, lips closed. Two seconds.",
  "Form your mouth.",
  "Breathe, and play one tone for four counts.",
  "Instrument away.",
];

export default function CaptureScreen({ token }: { token: string }) {
  const asked = useAsked(token);
  if (asked.isPending) return <Waiting what="the page" />;
  return (
    <main className="capture">
      <title>Film for Sulvet</title>
      {asked.isError ? (
        <>
          <h1>This link does not work</h1>
          <p className="fs-5">{asked.error.message}</p>
        </>
      ) : (
        <Film token={token} asked={asked.data} />
      )}
    </main>
  );
}

function Film({ token, asked }: { token: string; asked: PhonePage }) {
  const [share, setShare] = useState<number | null>(null);
  const [sent, setSent] = useState<Sent | null>(null);
  const [failed, setFailed] = useState("");
  const side = asked.view === "side";
  async function send(clip: File) {
    setSent(null);
    setFailed("");
    setShare(0);
    try {
      setSent(await sendClip(token, clip, asked.piece, setShare));
    } catch (error) {
      setFailed(
        error instanceof TypeError
          ? "There is no connection. Nothing is lost: try again when you are online."
          : error instanceof Error
            ? error.message
            : "The clip could not be sent. Try again.",
      );
    }
    setShare(null);
  }
  return (
    <>
      <h1>Hello, {asked.name}</h1>
      <p className="fs-5">
        {asked.instrument}.{" "}
        {side
          ? "Put the phone beside you, so that your nose points to the side."
          : "Put the phone in front of you and look straight into it."}{" "}
        Mouth, nose and chin in the picture, light from the front.
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
          {sent.readable ? "Thank you. Everything is in the picture." : sent.advice}
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
            {share < 1 ? `Sending, ${Math.round(share * 100)} %` : "Looking at the clip…"}
          </p>
          <progress value={share} max={1} aria-label="How much has been sent" />
        </div>
      ) : (
        <label className="btn btn-primary btn-lg w-100">
          {sent || failed ? "Film again" : "Film"}
          <input
            type="file"
            accept="video/*"
            capture="user"
            className="visually-hidden"
            onChange={(event) => {
              const clip = event.target.files?.[0];
              if (clip) void send(clip);
              event.target.value = "";
            }}
          />
        </label>
      )}
      <p className="kicker mt-3">
        Only your teacher sees the clip. The link is valid until {day(asked.until.slice(0, 10))}
        .
      </p>
    </>
  );
}
