const entities: Readonly<Record<string, string>> = {
  '&': '&amp;',
  '<': '&lt;',
  '>': '&gt;',
  '"': '&quot;',
  '\t': '&#9;',
  '\n': '&#10;',
  '\r': '&#13;',
}

/** Text between tags or in an attribute with double quotes, in HTML and XML. */
export function escaped(text: string): string {
  return text.replace(/[&<>"]/g, (sign) => entities[sign] ?? sign)
}

/** What XML 1.0 cannot hold, however it is written (production 2, Char). */
const NO_CHARACTER =
  /[\u0000-\u0008\u000B\u000C\u000E-\u001F\uFFFE\uFFFF]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/g

/** An attribute's value in XML: its line breaks and tabs stay what they are (XML 1.0, 3.3.3). */
export function escapedInXml(text: string): string {
  return text.replace(NO_CHARACTER, '').replace(/[&<>"\t\n\r]/g, (sign) => entities[sign] ?? sign)
}
