/** How a dialog with a form ends: left, or done. */
import { Button, Modal } from "react-bootstrap";
import { t } from "./words";

interface Props {
  cancel: () => void;
  busy: boolean;
  words: string;
}

export function DialogButtons({ cancel, busy, words }: Props) {
  return (
    <Modal.Footer>
      <Button variant="outline-secondary" onClick={cancel}>
        {t("Cancel")}
      </Button>
      <Button type="submit" disabled={busy}>
        {words}
      </Button>
    </Modal.Footer>
  );
}
