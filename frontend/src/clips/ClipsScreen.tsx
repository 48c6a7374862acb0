/** A folder of clips at once: matched to students by file name, looked over, then sent one
 * after the other. What can't be sent stays in the list with the reason. */
import { useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { Button, Form, ProgressBar } from "react-bootstrap";
import { Link } from "react-router";
import type { Chair } from "../api/client";
import { useBand } from "../api/queries";
import { useMatchClips } from "../api/records";
import { sendClip } from "../api/upload";
import { Refused, Trouble, Waiting } from "../shared/states";
import { mayBeFilmed } from "../shared/consent";
import { counted, fixed, today } from "../shared/format";
import { rowOf, sendable, type ClipRow } from "./rows";
import { keys } from "../api/keys";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

export default function ClipsScreen() {
  const band = useBand();
  const match = useMatchClips();
  const client = useQueryClient();
  const [rows, setRows] = useState<ClipRow[]>([]);
  const [sending, setSending] = useState(false);
  const [mirrored, setMirrored] = useState(false);
  const field = useRef<HTMLInputElement>(null);
  useEffect(() => {
    if (!sending) return;
    // What is not sent yet is only in this page.
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [sending]);
  if (band.isPending) return <Waiting what={t("the band")} />;
  if (band.isError) return <Trouble error={band.error} retry={() => void band.refetch()} />;
  const chairs = band.data.sections
    .flatMap((s) => s.chairs)
    .sort((a, b) => a.name.localeCompare(b.name));
  const change = (key: string, part: Partial<ClipRow>) =>
    setRows((now) => now.map((row) => (row.key === key ? { ...row, ...part } : row)));
  const take = (files: File[]) =>
    match.mutate(
      files.map((file) => file.webkitRelativePath || file.name),
      {
        onSuccess: async (found) => {
          const added = await Promise.all(
            files.map((file, n) => rowOf(file, found[n], today())),
          );
          setRows((now) => [...now.filter((row) => row.state !== "sent"), ...added]);
        },
      },
    );
  const chairOf = (row: ClipRow) => chairs.find((chair) => String(chair.id) === row.student);
  const ready = rows.filter((row) => sendable(row, chairOf(row)));

  async function sendAll() {
    setSending(true);
    for (const row of ready) {
      change(row.key, { state: "sending", share: 0, trouble: "" });
      try {
        await sendClip(
          Number(row.student),
          {
            clip: row.file,
            view: row.view,
            purpose: row.purpose,
            filmedOn: row.filmedOn,
            mirrored,
          },
          (share) => change(row.key, { share }),
        );
        change(row.key, { state: "sent", share: 1 });
      } catch (error) {
        change(row.key, {
          state: "waiting",
          trouble: error instanceof Error ? error.message : String(error),
        });
      }
      void client.invalidateQueries({ queryKey: keys.band });
      void client.invalidateQueries({ queryKey: keys.student(Number(row.student)) });
    }
    setSending(false);
  }

  const sent = rows.filter((row) => row.state === "sent").length;
  return (
    <main className="page">
      <title>{t("Upload clips – Sulvet")}</title>
      <h1>{t("Upload clips")}</h1>
      <Refused error={match.error} />
      {rows.length === 0 ? (
        <div
          className="drop-here"
          onDragOver={(event) => event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            take([...event.dataTransfer.files]);
          }}
        >
          <p className="fs-4 serif mb-2">{t("Drop clips here, or choose them.")}</p>
          <p className="faint">
            {t(
              "The file name can say whose clip it is (the student's name), the view (“side” or “profile”), the date, and “recheck”. You check the list before anything is uploaded.",
            )}
          </p>
          <Choosers field={field} take={take} />
        </div>
      ) : (
        <>
          <div className="d-flex flex-wrap gap-3 align-items-baseline mb-2">
            <span className="figures">
              {t("{{clip}}, {{count}} ready to upload", {
                clip: counted(rows.filter((row) => row.video).length, "clip"),
                count: ready.length,
              })}
              {sent > 0 && t(", {{sent}} uploaded", { sent })}
            </span>
            <Form.Check
              id="mirrored"
              label={t("Mirrored (selfie) videos")}
              checked={mirrored}
              disabled={sending}
              onChange={() => setMirrored(!mirrored)}
            />
            <span className="flex-fill" />
            <Choosers field={field} take={take} small />
            <Button disabled={sending || ready.length === 0} onClick={() => void sendAll()}>
              {ready.length === 1
                ? t("Upload 1 clip")
                : t("Upload {{count}} clips", { count: ready.length })}
            </Button>
          </div>
          <div className="table-responsive">
            <table className="table clips-table">
              <thead>
                <tr>
                  <th scope="col">{t("File")}</th>
                  <th scope="col">{t("Student")}</th>
                  <th scope="col">{t("View")}</th>
                  <th scope="col">{t("Filmed on")}</th>
                  <th scope="col">{t("For")}</th>
                  <th scope="col">{t("State")}</th>
                </tr>
              </thead>
              <tbody>
                {rows.map((row) => (
                  <Row
                    key={row.key}
                    row={row}
                    chairs={chairs}
                    chair={chairOf(row)}
                    change={(part) => change(row.key, part)}
                    remove={() => setRows((now) => now.filter((one) => one.key !== row.key))}
                  />
                ))}
              </tbody>
            </table>
          </div>
          {sent > 0 && !sending && (
            <p>
              <Rich
                text="Sulvet is analysing them; you can leave this page. <a>Open the band</a>"
                parts={{ a: <Link to="/" /> }}
              />
            </p>
          )}
        </>
      )}
    </main>
  );
}

interface ChoosersProps {
  field: React.RefObject<HTMLInputElement | null>;
  take: (files: File[]) => void;
  small?: boolean;
}

/** Clips one by one, or a folder of them. */
function Choosers({ field, take, small = false }: ChoosersProps) {
  const folder = useRef<HTMLInputElement>(null);
  const taken = (event: React.ChangeEvent<HTMLInputElement>) => {
    const files = [...(event.target.files ?? [])];
    if (files.length > 0) take(files);
    event.target.value = "";
  };
  const kind = small ? "outline-secondary" : "primary";
  return (
    <>
      <input
        ref={field}
        type="file"
        multiple
        className="d-none"
        aria-label={t("Choose clips")}
        accept="video/*,.mp4,.mov,.m4v,.webm,.mkv,.3gp,.avi"
        onChange={taken}
      />
      <input
        ref={folder}
        type="file"
        className="d-none"
        aria-label={t("Choose a folder")}
        {...{ webkitdirectory: "" }}
        onChange={taken}
      />
      <Button variant={kind} className="me-2" onClick={() => field.current?.click()}>
        {small ? t("Add clips") : t("Choose clips")}
      </Button>
      <Button variant="outline-secondary" onClick={() => folder.current?.click()}>
        {small ? t("Add a folder") : t("Choose a folder")}
      </Button>
    </>
  );
}

interface RowProps {
  row: ClipRow;
  chairs: Chair[];
  chair: Chair | undefined;
  change: (part: Partial<ClipRow>) => void;
  remove: () => void;
}

function Row({ row, chairs, chair, change, remove }: RowProps) {
  const settled = row.state !== "waiting";
  const trouble =
    row.trouble ||
    (row.student === "" || !row.video ? row.why : "") ||
    (chair && !mayBeFilmed(chair, row.filmedOn) ? t("No consent on file for this day.") : "");
  return (
    <tr>
      <th scope="row" className="fw-normal text-break">
        {row.video && <Thumbnail file={row.file} />}
        {row.file.name}
        <span className="kicker d-block figures">
          {t("{{megabytes}} MB", { megabytes: fixed(row.file.size / 1e6, 1) })}
        </span>
      </th>
      <td>
        <Form.Select
          size="sm"
          aria-label={t("Student of {{name}}", { name: row.file.name })}
          disabled={settled}
          value={row.student}
          onChange={(event) => change({ student: event.target.value, trouble: "" })}
        >
          <option value="">{t("Choose …")}</option>
          {chairs.map((chair) => (
            <option key={chair.id} value={chair.id}>
              {chair.name}
            </option>
          ))}
        </Form.Select>
      </td>
      <td>
        <Form.Select
          size="sm"
          aria-label={t("View of {{name}}", { name: row.file.name })}
          disabled={settled}
          value={row.view}
          onChange={(event) => change({ view: event.target.value as ClipRow["view"] })}
        >
          <option value="front">{t("front")}</option>
          <option value="side">{t("side")}</option>
        </Form.Select>
      </td>
      <td>
        <Form.Control
          size="sm"
          type="date"
          aria-label={t("Day of {{name}}", { name: row.file.name })}
          disabled={settled}
          max={today()}
          value={row.filmedOn}
          onChange={(event) => change({ filmedOn: event.target.value })}
        />
      </td>
      <td>
        <Form.Select
          size="sm"
          aria-label={t("What {{name}} is for", { name: row.file.name })}
          disabled={settled}
          value={row.purpose}
          onChange={(event) => change({ purpose: event.target.value as ClipRow["purpose"] })}
        >
          <option value="check">{t("First check")}</option>
          <option value="recheck">{t("Recheck")}</option>
        </Form.Select>
      </td>
      <td className="state">
        {row.state === "sending" ? (
          <ProgressBar
            now={row.share * 100}
            label={t("{{share}} % uploaded", { share: Math.round(row.share * 100) })}
            visuallyHidden
          />
        ) : row.state === "sent" ? (
          t("uploaded ✓")
        ) : (
          <>
            {trouble ? (
              <span className="lost">{trouble}</span>
            ) : (
              <span className="faint">{t("ready")}</span>
            )}{" "}
            <Button
              variant="link"
              size="sm"
              className="p-0 faint"
              aria-label={t("remove {{name}}", { name: row.file.name })}
              onClick={remove}
            >
              {t("remove")}
            </Button>
          </>
        )}
      </td>
    </tr>
  );
}

/** The clip's first picture, straight from the file. */
function Thumbnail({ file }: { file: File }) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    const own = URL.createObjectURL(file);
    if (video.current) video.current.src = own;
    return () => URL.revokeObjectURL(own);
  }, [file]);
  return <video ref={video} className="thumbnail" muted preload="metadata" aria-hidden />;
}
