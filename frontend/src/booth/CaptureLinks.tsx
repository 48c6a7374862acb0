/** Links under which a student's clips may be sent from home, and nothing else. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useLinkEdits, useLinks, type CaptureLink } from "../api/links";
import { day } from "../shared/format";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { t } from "../shared/words";

type View = CaptureLink["view"];
const DAYS = [3, 7, 14, 30];

export function CaptureLinks({ student, first }: { student: number; first: View }) {
  const links = useLinks(student);
  const { make, revoke } = useLinkEdits(student);
  const [view, setView] = useState<View>(first);
  const [days, setDays] = useState(7);
  const [page, setPage] = useState(false);
  const [pictures, setPictures] = useState(false);
  const here = links.data?.some((one) => !one.reaches_phones);
  return (
    <details className="mt-4" open={(links.data?.length ?? 0) > 0 || undefined}>
      <summary className="h5">{t("At home: film and practise")}</summary>
      <p className="faint mb-2">
        {t(
          "A link for this student's phone. Clips can be sent with it; what else it shows is for you to say.",
        )}
      </p>
      {links.data?.map((one) => (
        <Row key={one.id} link={one} revoke={() => revoke.mutate(one.id)} />
      ))}
      <Form
        className="d-flex flex-wrap gap-2 align-items-end"
        onSubmit={(event) => {
          event.preventDefault();
          make.mutate({ view, days, page, pictures: page && pictures });
        }}
      >
        <Form.Group controlId="link-view">
          <Form.Label className="mb-0">{t("From the")}</Form.Label>
          <Form.Select
            size="sm"
            value={view}
            onChange={(event) => setView(event.target.value as View)}
          >
            <option value="front">{t("front")}</option>
            <option value="side">{t("side")}</option>
          </Form.Select>
        </Form.Group>
        <Form.Group controlId="link-days">
          <Form.Label className="mb-0">{t("Valid for")}</Form.Label>
          <Form.Select
            size="sm"
            value={days}
            onChange={(event) => setDays(Number(event.target.value))}
          >
            {DAYS.map((one) => (
              <option key={one} value={one}>
                {t("{{days}} days", { days: one })}
              </option>
            ))}
          </Form.Select>
        </Form.Group>
        <Button type="submit" size="sm" variant="outline-primary" disabled={make.isPending}>
          {t("Make a link")}
        </Button>
        <div className="w-100">
          <Form.Check
            id="link-page"
            label={t(
              "With the student's page: the one thing, its drill, days to tick, reeds, a word to you",
            )}
            checked={page}
            onChange={(event) => setPage(event.target.checked)}
          />
          <Form.Check
            id="link-pictures"
            label={t("Then and now with pictures of the mouth, not the drawing alone")}
            checked={page && pictures}
            disabled={!page}
            onChange={(event) => setPictures(event.target.checked)}
          />
        </div>
      </Form>
      <Refused error={make.error ?? revoke.error} />
      {here && (
        <p className="kicker mt-2 mb-0">
          {t(
            "This address works on this computer alone. Start Sulvet with --share so that phones in the room reach it.",
          )}
        </p>
      )}
    </details>
  );
}

function Row({ link, revoke }: { link: CaptureLink; revoke: () => void }) {
  return (
    <div className="capture-link mb-3">
      <img
        src={link.qr}
        alt={t("QR code of the link for a clip from the {{view}}", { view: link.view })}
      />
      <div>
        <p className="mb-1">
          <Rich
            text="<strong>From the {{view}}</strong>, valid until {{until}}"
            values={{ view: link.view, until: day(link.until.slice(0, 10)) }}
            parts={{ strong: <strong /> }}
          />

          {link.page &&
            (link.pictures ? t(", student's page with pictures") : t(", student's page"))}
        </p>
        <p className="mb-1 address">{link.address}</p>
        <Button size="sm" variant="outline-danger" onClick={revoke}>
          {t("Revoke")}
        </Button>
      </div>
    </div>
  );
}
