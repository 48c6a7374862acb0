/** The handbook: the same pages as in the repository, rendered here. */
import { ButtonGroup, Button } from "react-bootstrap";
import Markdown from "react-markdown";
import { useSearchParams } from "react-router";
import remarkGfm from "remark-gfm";
import measuring from "../../../docs/measuring.md?raw";
import { drawingOf } from "../shared/handbookDrawings";
import { useTour } from "../tour/useTour";
import words from "../../../docs/words.md?raw";
import working from "../../../docs/working.md?raw";
import { t } from "../shared/words";

const PAGES: Record<string, { title: string; text: string }> = {
  working: { title: t("Working with Sulvet"), text: working },
  measuring: { title: t("How it measures"), text: measuring },
  words: { title: t("Words"), text: words },
};

export default function HelpScreen() {
  const tour = useTour();
  const [params, setParams] = useSearchParams();
  const shown = params.get("page") ?? "working";
  const page = PAGES[shown] ?? { title: t("Working with Sulvet"), text: working };
  return (
    <main className="page help">
      <title>{t("{{title}} – Sulvet", { title: page.title })}</title>
      <div className="d-flex flex-wrap gap-3 mb-3">
        <ButtonGroup aria-label={t("Pages of the handbook")}>
          {Object.entries(PAGES).map(([id, { title }]) => (
            <Button
              key={id}
              variant={id === shown ? "secondary" : "outline-secondary"}
              aria-pressed={id === shown}
              onClick={() => setParams({ page: id })}
            >
              {title}
            </Button>
          ))}
        </ButtonGroup>
        {tour && (
          <Button variant="link" onClick={() => void tour()}>
            {t("Take the tour")}
          </Button>
        )}
      </div>
      <article>
        <Markdown
          remarkPlugins={[remarkGfm]}
          components={{
            img: ({ src, alt }) => (
              <img
                src={drawingOf(/(\w[\w-]*)\.svg$/.exec(src ?? "")?.[1] ?? "")}
                alt={alt ?? ""}
              />
            ),
            table: ({ children }) => (
              <div className="table-responsive">
                <table className="table table-sm">{children}</table>
              </div>
            ),
            // Links between documents make no sense here; the text does.
            a: ({ href, children }) =>
              href?.startsWith("http") ? <a href={href}>{children}</a> : <>{children}</>,
          }}
        >
          {page.text}
        </Markdown>
      </article>
    </main>
  );
}
