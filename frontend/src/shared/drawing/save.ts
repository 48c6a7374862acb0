/** A drawing as a file of its own: colours and fonts written out, readable by any program. */

/** The SVG text of a drawing on the page, with the page's own variables put in. */
export function svgText(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement;
  const [, , width = "400", height = "300"] = (svg.getAttribute("viewBox") ?? "").split(" ");
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", width);
  copy.setAttribute("height", height);
  copy.setAttribute("font-family", "sans-serif");
  copy.removeAttribute("class");
  const style = getComputedStyle(document.documentElement);
  const known = (name: string) => style.getPropertyValue(name).trim() || "#000";
  const title = document.createElementNS("http://www.w3.org/2000/svg", "title");
  title.textContent = svg.getAttribute("aria-label");
  copy.prepend(title);
  const text = new XMLSerializer().serializeToString(copy);
  return text.replace(/var\((--[a-z-]+)\)/g, (_, name: string) => known(name));
}

export function saveSvg(svg: SVGSVGElement, name: string): void {
  const file = new Blob([svgText(svg)], { type: "image/svg+xml" });
  const address = URL.createObjectURL(file);
  const link = document.createElement("a");
  link.href = address;
  link.download = `${name}.svg`;
  link.click();
  URL.revokeObjectURL(address);
}
