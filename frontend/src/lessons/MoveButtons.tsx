/** What happens to students on the ladder: passed, back one step, no sound yet. */
import { Button, Dropdown } from "react-bootstrap";
import { useMoves, type BoardRow, type Move } from "../api/lessons";
import { Refused } from "../shared/states";
import { tell } from "../shared/toasts";
import { counted, listed } from "../shared/format";
import { t } from "../shared/words";

interface Props {
  rows: BoardRow[];
  /** After it is done. */
  moved?: () => void;
}

function names(rows: BoardRow[]): string {
  return rows.length > 2 ? counted(rows.length, "student") : listed(rows.map((r) => r.name));
}

export function MoveButtons({ rows, moved }: Props) {
  const moves = useMoves();
  const students = rows.map((row) => row.student);
  // Only what may be heard at the step of each of them.
  const asks = rows[0]?.asks.filter((one) =>
    rows.every((row) => row.asks.some((other) => other.id === one.id)),
  );
  const move = (what: Move["do"], heard = "") =>
    moves.mutate(
      { students, do: what, heard },
      {
        onSuccess: () => {
          moved?.();
          if (what === "pass")
            tell(t("{{rows}}: step passed.", { rows: names(rows) }), () =>
              moves.mutate({ students, do: "back", heard: "" }),
            );
        },
      },
    );
  const usual = {
    disabled: moves.isPending || rows.length === 0,
    variant: "outline-secondary",
  };
  return (
    <div className="d-flex flex-wrap gap-2 align-items-center">
      <Button {...usual} variant="primary" onClick={() => move("pass")}>
        {t("Passed")}
      </Button>
      <Button {...usual} onClick={() => move("back")}>
        {t("Back one step")}
      </Button>
      {asks && asks.length > 0 && (
        <Dropdown>
          <Dropdown.Toggle {...usual}>{t("No sound yet")}</Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Header>{t("What do you hear?")}</Dropdown.Header>
            {asks.map((one) => (
              <Dropdown.Item as="button" key={one.id} onClick={() => move("no-sound", one.id)}>
                {one.label}
              </Dropdown.Item>
            ))}
          </Dropdown.Menu>
        </Dropdown>
      )}
      <Refused error={moves.error} />
    </div>
  );
}
