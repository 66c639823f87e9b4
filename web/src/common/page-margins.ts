/** The margins of printed pages as a style sheet. */

/** A text as a string of CSS. */
const quoted = (text: string) => `"${text.replace(/[\\"]/g, "\\$&").replace(/\n/g, " ")}"`;

/** `title` above each page; `printed` and the page's number below it. */
export function pageMargins(title: string, printed: string): string {
  const font = "font: 11px 'Barlow Semi Condensed', sans-serif; color: #17222e";
  return `@page {
  @top-left { content: ${quoted(title)}; ${font}; font-weight: 600 }
  @bottom-left { content: ${quoted(printed)}; ${font} }
  @bottom-right { content: "page " counter(page) " of " counter(pages); ${font} }
}`;
}
