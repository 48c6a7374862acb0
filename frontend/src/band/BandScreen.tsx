import { useState } from "react";
import { Button, ButtonGroup, Dropdown } from "react-bootstrap";
import { Link } from "react-router";
import { OpenBooth } from "../booth/OpenBooth";
import { useBand } from "../api/queries";
import { counted } from "../shared/format";
import { PageLines } from "../shared/drawing/lines";
import { slipsAddress } from "../shared/slip";
import { Trouble, Waiting } from "../shared/states";
import { StudentForm } from "../student/StudentForm";
import { TourOffer } from "../tour/Offer";
import { BandFilters } from "./BandFilters";
import { BandNames } from "./BandNames";
import { Bands } from "./Bands";
import { NextForYou } from "./NextForYou";
import { RosterForm } from "./RosterForm";
import { SeatingPlan } from "./SeatingPlan";
import { StudentTable } from "./StudentTable";
import { filtered } from "./filters";
import { useBandView } from "./useBandView";
import { t } from "../shared/words";

/** More students than this are easier to find in a list. */
const MOST_ON_STAGE = 40;

/** Too narrow for the names on the plan to be read. */
function isNarrow(): boolean {
  return window.matchMedia?.("(width <= 640px)").matches ?? false;
}

type Dialog = "student" | "list" | "names" | "bands" | null | "booth";

export function BandScreen() {
  const band = useBand();
  const view = useBandView();
  const [dialog, setDialog] = useState<Dialog>(null);
  if (band.isPending) return <Waiting what={t("the band")} />;
  if (band.isError) return <Trouble error={band.error} retry={() => void band.refetch()} />;
  const { sections, next, name } = band.data;
  const chairs = sections.reduce((sum, s) => sum + s.chairs.length, 0);
  const kind = view.kind ?? (chairs > MOST_ON_STAGE || isNarrow() ? "list" : "plan");
  const shown = filtered(sections, view.filter);
  const fitting = shown.flatMap((s) => s.chairs);
  const slips = fitting.filter((chair) => chair.focus !== null && chair.take !== null);
  const close = () => setDialog(null);
  return (
    <PageLines.Provider value={band.data.lines}>
      <main className="page" id="main">
        <title>{t("{{band}} – Sulvet", { band: name || t("Your band") })}</title>
        <div className="band-heading d-flex flex-wrap align-items-baseline gap-2 mb-2">
          <h1 className="mb-0">{name || t("Your band")}</h1>
          <span className="faint figures">
            {band.data.year && `${band.data.year}, `}
            {counted(chairs, "student")}
          </span>
          <span className="flex-fill" />
          {slips.length > 0 && (
            <a
              className="btn btn-sm btn-outline-secondary"
              href={slipsAddress(slips.length === chairs ? null : slips.map((c) => c.id))}
              target="_blank"
              rel="noreferrer"
            >
              {t("Print {{slip}}", { slip: counted(slips.length, "slip") })}
            </a>
          )}
          <Link className="btn btn-sm btn-outline-secondary" to="/clips">
            {t("Upload clips")}
          </Link>
          {chairs > 0 && (
            <Button size="sm" variant="outline-secondary" onClick={() => setDialog("booth")}>
              {t("Open the booth")}
            </Button>
          )}
          <Dropdown align="end">
            <Dropdown.Toggle size="sm" variant="outline-secondary">
              {t("Manage band")}
            </Dropdown.Toggle>
            <Dropdown.Menu>
              <Dropdown.Item as="button" onClick={() => setDialog("list")}>
                {t("Import class list")}
              </Dropdown.Item>
              {chairs > 0 && (
                <Dropdown.Item as="button" onClick={() => setDialog("names")}>
                  {t("Names and seating")}
                </Dropdown.Item>
              )}
              <Dropdown.Item as="button" onClick={() => setDialog("bands")}>
                {t("Bands and school years")}
              </Dropdown.Item>
              <Dropdown.Item as={Link} to="/school-days">
                {t("School days")}
              </Dropdown.Item>
            </Dropdown.Menu>
          </Dropdown>
          <Button size="sm" onClick={() => setDialog("student")}>
            {t("Add a student")}
          </Button>
        </div>
        {chairs > 0 && <TourOffer />}
        {chairs === 0 ? (
          <Empty open={setDialog} />
        ) : (
          <div className="band-screen">
            <section aria-label={kind === "plan" ? t("Seating plan") : t("All students")}>
              <BandFilters
                sections={sections}
                filter={view.filter}
                setFilter={view.setFilter}
                left={fitting.length}
              >
                <ButtonGroup size="sm" aria-label={t("How to show the band")}>
                  {(["plan", "list"] as const).map((one) => (
                    <Button
                      key={one}
                      variant={kind === one ? "secondary" : "outline-secondary"}
                      aria-pressed={kind === one}
                      onClick={() => view.setKind(one)}
                    >
                      {one === "plan" ? t("Plan") : t("List")}
                    </Button>
                  ))}
                </ButtonGroup>
              </BandFilters>
              {fitting.length === 0 ? (
                <p className="faint py-4">
                  {t("No students match. Clear the filters to see everyone.")}
                </p>
              ) : kind === "plan" ? (
                <SeatingPlan
                  sections={sections}
                  filter={view.filter}
                  folded={view.folded}
                  fold={view.fold}
                />
              ) : (
                <StudentTable sections={shown} view={view} />
              )}
            </section>
            <NextForYou next={next} sections={sections} warning={band.data.warning} />
          </div>
        )}
        {dialog === "student" && <StudentForm close={close} />}
        {dialog === "booth" && <OpenBooth sections={sections} close={close} />}
        {dialog === "list" && <RosterForm close={close} />}
        {dialog === "bands" && <Bands band={band.data} close={close} />}
        {dialog === "names" && <BandNames band={band.data} close={close} />}
      </main>
    </PageLines.Provider>
  );
}

function Empty({ open }: { open: (dialog: Dialog) => void }) {
  return (
    <div className="py-5 text-center">
      <p className="fs-4 serif">{t("No students yet.")}</p>
      <p className="faint">
        {t(
          "Add a student with an instrument and the date of the parents' consent, then upload the first clip. Or import a class list, or restore a band from a backup.",
        )}
      </p>
      <div className="d-flex flex-wrap gap-2 justify-content-center">
        <Button size="lg" onClick={() => open("student")}>
          {t("Add first student")}
        </Button>
        <Button size="lg" variant="outline-secondary" onClick={() => open("list")}>
          {t("Import class list")}
        </Button>
        <Link className="btn btn-lg btn-outline-secondary" to="/records">
          {t("Restore a backup")}
        </Link>
      </div>
    </div>
  );
}
