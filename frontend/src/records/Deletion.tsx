/** Deletion of clips without consent and of students kept long enough: only if turned on. */
import { useAgreeToDeletion, useRetention } from "../api/records";
import { day } from "../shared/format";
import { Refused } from "../shared/states";
import { Rich } from "../shared/Rich";
import { WarningForm } from "../shared/WarningForm";
import { t } from "../shared/words";

export function Deletion() {
  const rule = useRetention();
  const agree = useAgreeToDeletion();
  if (!rule.data) return null;
  const { agreed_on, days, school_days } = rule.data;
  return (
    <section className="mt-5" aria-labelledby="deletion-title">
      <h2 id="deletion-title" className="h3">
        {t("Automatic deletion")}
      </h2>
      <p>
        <Rich
          text="When the parents' consent ends, clips are locked at once. Clips without consent and students past their keep-until date are listed in <em>Next for you</em>. {{automatic}}"
          values={{
            automatic: agreed_on
              ? t(
                  "Since {{agreed_on}} Sulvet deletes them {{days}} days after it first warns you.",
                  { agreed_on: day(agreed_on), days },
                )
              : t("Nothing is deleted automatically until you turn this on."),
          }}
          parts={{ em: <em /> }}
        />
      </p>
      {school_days !== null && (
        <p>
          {t(
            "Your school deletes them {{days}} days after the first warning, in all bands. You can choose fewer days for yours.",
            { days: school_days },
          )}
        </p>
      )}
      <WarningForm
        id="deletion-days"
        on={agreed_on !== null}
        days={days}
        busy={agree.isPending}
        words={{ on: t("Turn on automatic deletion"), off: t("Turn off automatic deletion") }}
        agree={(chosen) => agree.mutate(chosen)}
      />
      <Refused error={agree.error} />
    </section>
  );
}
