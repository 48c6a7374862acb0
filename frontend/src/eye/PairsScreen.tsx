/** For a class, on the projector: two made-up students, which one is as it should be? No scores. */
import { Form } from "react-bootstrap";
import { Link, useNavigate, useParams } from "react-router";
import { useEye, useGallery } from "../api/eye";
import { Trouble, Waiting } from "../shared/states";
import { Pairs } from "./Pairs";
import { t } from "../shared/words";

export default function PairsScreen() {
  const { instrument = "flute" } = useParams();
  const eye = useEye();
  const rows = useGallery(instrument);
  const go = useNavigate();
  if (rows.isPending || eye.isPending) return <Waiting what={t("the pairs")} />;
  if (rows.isError) return <Trouble error={rows.error} />;
  return (
    <main className="page eye" id="content">
      <title>{t("Which one is it? – Sulvet")}</title>
      <div className="d-flex flex-wrap align-items-center gap-3 mb-2">
        <h1 className="mb-0">{t("Which one is as it should be?")}</h1>
        <span className="flex-fill" />
        <Form.Select
          aria-label={t("Instrument")}
          className="w-auto"
          value={instrument}
          onChange={(event) => void go(`/eye/pairs/${event.target.value}`)}
        >
          {eye.data?.instruments.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </Form.Select>
        <Link to="/eye">{t("Practise")}</Link>
      </div>
      <Pairs key={instrument} rows={rows.data} />
    </main>
  );
}
