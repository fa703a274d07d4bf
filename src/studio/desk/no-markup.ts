/** In place of the renderer of markup, which a browser never asks for: `drawnFirst` draws while the server does. */
export function renderToStaticMarkup(): string {
  return ''
}
