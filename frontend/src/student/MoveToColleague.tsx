/** The student goes to another teacher of the school; nothing is shown where there is none. */
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { useNavigate } from "react-router";
import { useColleagues, useTransfer } from "../api/people";
import { Refused } from "../shared/states";
import { t } from "../shared/words";

export function MoveToColleague({ id, name }: { id: number; name: string }) {
  const colleagues = useColleagues();
  const move = useTransfer(id);
  const navigate = useNavigate();
  const [asked, setAsked] = useState(false);
  const [to, setTo] = useState("");
  const chosen = colleagues.data?.find((one) => String(one.id) === to);
  if (!colleagues.data?.length) return null;
  return (
    <>
      <Button variant="outline-secondary" size="sm" onClick={() => setAsked(true)}>
        {t("Move to a colleague")}
      </Button>
      <Modal show={asked} onHide={() => setAsked(false)} aria-labelledby="move-title">
        <Form
          onSubmit={(event) => {
            event.preventDefault();
            if (!chosen) return;
            move.mutate(chosen.id, {
              onSuccess: () =>
                void navigate("/", {
                  state: {
                    notice: t("{{name}} is in the band of {{teacher}} now.", {
                      name,
                      teacher: chosen.name,
                    }),
                  },
                }),
            });
          }}
        >
          <Modal.Header closeButton closeLabel={t("Cancel")}>
            <Modal.Title as="h2" id="move-title" className="h4">
              {t("Move {{name}} to a colleague", { name })}
            </Modal.Title>
          </Modal.Header>
          <Modal.Body>
            <p>
              {t(
                "All clips, measurements, plans and notes go along, and you no longer see them. Links for the phone at home stop working. The consent on file is noted with the move.",
              )}
            </p>
            <Refused error={move.error} />
            <Form.Group controlId="colleague">
              <Form.Label>{t("Teacher")}</Form.Label>
              <Form.Select required value={to} onChange={(event) => setTo(event.target.value)}>
                <option value="">{t("Choose a teacher")}</option>
                {colleagues.data.map((one) => (
                  <option key={one.id} value={one.id}>
                    {one.name}
                  </option>
                ))}
              </Form.Select>
            </Form.Group>
          </Modal.Body>
          <Modal.Footer>
            <Button variant="outline-secondary" onClick={() => setAsked(false)}>
              {t("Cancel")}
            </Button>
            <Button type="submit" disabled={!chosen || move.isPending}>
              {t("Move")}
            </Button>
          </Modal.Footer>
        </Form>
      </Modal>
    </>
  );
}
