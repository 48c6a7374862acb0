/** Limits that a school's teachers share, and their administrator's say in them. */
import { useState } from "react";
import { Button, Form } from "react-bootstrap";
import { useShareStandard, type OwnStandard } from "../api/standards";
import { day } from "../shared/format";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { t } from "../shared/words";

/** What counts for all teachers of the school where they have changed nothing themselves. */
export function Shared({ standard, edited }: { standard: OwnStandard; edited: boolean }) {
  const { shared, may_share, name } = standard;
  const share = useShareStandard(standard.instrument);
  const [words, setWords] = useState("");
  const limits = shared?.bands ?? 0;
  if (limits === 0 && !may_share) return null;
  const own = standard.bands.some((band) => band.changed);
  return (
    <section className="finding" aria-labelledby="shared-title">
      <h3 id="shared-title" className="h5">
        {t("Limits of your school")}
      </h3>
      <p className="mb-2">
        {shared && limits > 0
          ? t("Since {{day}} your school has {{count}} limit of its own.", {
              day: day(shared.made_at.slice(0, 10)),
              count: limits,
            })
          : t("Your school uses Sulvet's limits.")}
        {shared?.words && ` ${shared.words}`}
      </p>
      {may_share && (
        <Form
          className="d-flex flex-wrap gap-2 align-items-end"
          onSubmit={(event) => {
            event.preventDefault();
            share.mutate(words, {
              onSuccess: () => tell(t("{{name}}: your school's limits are set.", { name })),
            });
          }}
        >
          {own && (
            <>
              <Form.Group controlId="shared-words" className="flex-fill">
                <Form.Label className="mb-0">{t("Why, for your colleagues")}</Form.Label>
                <Form.Control
                  maxLength={200}
                  value={words}
                  onChange={(event) => setWords(event.target.value)}
                />
              </Form.Group>
              <Button type="submit" disabled={edited || share.isPending}>
                {t("Use my limits for the whole school")}
              </Button>
            </>
          )}
          {limits > 0 && (
            <Button
              variant="outline-secondary"
              disabled={share.isPending}
              onClick={() => share.mutate(null)}
            >
              {t("Back to Sulvet's limits for the whole school")}
            </Button>
          )}
          {!own && limits === 0 && (
            <span className="faint">
              {t("Change a limit and save it; then you can use it for the whole school.")}
            </span>
          )}
        </Form>
      )}
      <Refused error={share.error} />
    </section>
  );
}
