/** The drawings of the handbook, by the name of their file without its suffix. */
const DRAWINGS = import.meta.glob<string>("../../../docs/drawings/*.svg", {
  eager: true,
  query: "?url",
  import: "default",
});

export function drawingOf(name: string): string | undefined {
  return DRAWINGS[`../../../docs/drawings/${name}.svg`];
}
