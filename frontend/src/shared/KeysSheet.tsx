/** All keys on one sheet. */
import { Modal } from "react-bootstrap";

const SHEET: [string, [string[], string][]][] = [
  [
    "Everywhere",
    [
      [["?"], "this sheet"],
      [["Esc"], "close, let go"],
    ],
  ],
  [
    "Bench: time",
    [
      [["Q"], "one frame back (with Shift: ten)"],
      [["W"], "one frame on (with Shift: ten)"],
      [["Space"], "play, stop"],
      [["S"], "slower, and full speed again (with Shift: sound on or off)"],
      [["J"], "marked frame before"],
      [["K"], "next marked frame"],
      [["L"], "letters: any phase begins or ends here"],
      [["I"], "all staves, or those of first sight"],
      [["E"], "“rest” begins here (with Shift: ends here)"],
      [["O"], "“hold” begins here (with Shift: ends here)"],
    ],
  ],
  [
    "Bench: marks",
    [
      [["M"], "take the next mark in hand (with Shift: the one before)"],
      [["←", "↑", "↓", "→"], "move it half a pixel (Shift: five, Alt: a tenth)"],
      [["X"], "it doesn’t show, or does again"],
      [["U"], "take back what you placed on this frame"],
      [["Enter"], "guided marking: put the asked mark in the middle"],
      [["A"], "all found marks are right"],
      [["B"], "take the last edit back (with Shift: do it again)"],
    ],
  ],
  [
    "Bench: picture and drawing",
    [
      [["+", "−", "0"], "nearer, farther, as fitted"],
      [["Z"], "mouth or whole picture"],
      [["V"], "veil all but the mouth"],
      [["G"], "drawing of this frame or of the hold"],
    ],
  ],
  [
    "Reed close-up",
    [
      [["M"], "take the next mark in hand"],
      [["←", "↑", "↓", "→"], "move it a pixel (Shift: ten, Alt: a quarter)"],
      [["Enter"], "put the asked mark in the middle"],
      [["X"], "something covers what is asked"],
      [["U"], "take the last mark back"],
    ],
  ],
  [
    "Then and now",
    [
      [["1", "2", "3"], "side by side, laid over, moving edge"],
      [["Q", "W"], "another frame of the newer take (with Shift: of the older)"],
      [["←", "→"], "fade, or move the edge"],
    ],
  ],
  [
    "Bench: findings",
    [
      [["F"], "go to the worst frame of the first finding"],
      [["C"], "confirm the first finding"],
      [["D"], "dismiss it, with a reason"],
      [["R"], "this take is read"],
      [["H"], "add a finding by hand"],
      [["T"], "tick what the camera can't see"],
      [["Y"], "then and now"],
      [["Shift", "N"], "a note at this moment"],
      [["N"], "on to the next take"],
      [["P"], "back to the take before"],
    ],
  ],
];

export function KeysSheet({ shown, close }: { shown: boolean; close: () => void }) {
  return (
    <Modal show={shown} onHide={close} size="lg" aria-labelledby="keys-title" animation={false}>
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="keys-title">
          Keys
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <div className="row row-cols-1 row-cols-md-2 g-4">
          {SHEET.map(([title, rows]) => (
            <section key={title}>
              <h3 className="h5">{title}</h3>
              <dl className="mb-0">
                {rows.map(([keys, what]) => (
                  <div key={what} className="d-flex gap-3 py-1">
                    <dt className="text-nowrap" style={{ minWidth: "6.5rem" }}>
                      {keys.map((key) => (
                        <kbd key={key} className="me-1">
                          {key}
                        </kbd>
                      ))}
                    </dt>
                    <dd className="mb-0">{what}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
        </div>
      </Modal.Body>
    </Modal>
  );
}
