/** A student's close-ups, the newest first, with what each shows. */
import { Link } from "react-router";
import { useCloseUps } from "../api/closeups";
import { noon, shortDay, inside } from "../shared/format";
import { AddCloseUp } from "./AddCloseUp";
import { t } from "../shared/words";

const SHOWN = 4;

export function CloseUpList({ student }: { student: number }) {
  const rows = useCloseUps(student);
  if (!rows.data) return null;
  return (
    <div className="mt-3">
      <div className="d-flex gap-3 align-items-center mb-1">
        <h3 className="h5 mb-0">{t("Close-ups")}</h3>
        <AddCloseUp student={student} />
      </div>
      {rows.data.length === 0 ? (
        <p className="faint mb-0">
          {t("Mouthpiece and reed alone, no face: Sulvet measures where the reed sits.")}
        </p>
      ) : (
        <ul className="list-unstyled mb-0">
          {rows.data.slice(0, SHOWN).map((row) => (
            <li key={row.id}>
              <Link to={`/close-ups/${row.id}`}>{shortDay(noon(row.taken_on))}</Link>
              {row.slot !== null && (
                <span className="faint"> {t("slot {{slot}}", { slot: row.slot })}</span>
              )}
              {": "}
              {!row.marked ? (
                <span className="faint">{t("not marked yet")}</span>
              ) : row.shows.length === 0 ? (
                t("nothing to fix")
              ) : (
                <span className="lost">{inside(row.shows.join(", "))}</span>
              )}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
