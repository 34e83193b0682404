const hasTags = /<[a-z/!]/i;

// What the editor keeps as it is; of anything else it would leave the words only.
const known = new Set("P BR STRONG B EM I U S DEL STRIKE H2 H3 UL OL LI BLOCKQUOTE HR A CODE".split(" "));

/** Whether a text can be edited as it looks without losing any of it. */
export function canBeFormatted(text: string): boolean {
  if (!hasTags.test(text)) return true;
  const parsed = new DOMParser().parseFromString(text, "text/html");
  return (
    parsed.head.childElementCount === 0 &&
    [...parsed.body.querySelectorAll("*")].every(
      (element) =>
        known.has(element.tagName) && element.getAttributeNames().every((name) => name === "href" || name === "start"),
    )
  );
}

/** A stored text as the editor takes it: one without tags keeps its lines. */
export function toEditor(text: string): string {
  if (text === "" || hasTags.test(text)) return text;
  return text
    .replaceAll("\r\n", "\n")
    .split("\n\n")
    .map((part) => `<p>${escaped(part).replaceAll("\n", "<br>")}</p>`)
    .join("");
}

/** What the editor holds as it is to be stored, without the empty line that it keeps at the end to be typed into. */
export function fromEditor(html: string): string {
  return html.replace(/(<p><\/p>)+$/, "");
}

function escaped(text: string): string {
  return text.replaceAll("&", "&amp;").replaceAll("<", "&lt;").replaceAll(">", "&gt;");
}
