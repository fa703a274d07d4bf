/*
 * For a page elsewhere: tells the site that something happened there. Who it happened to came with the address, and is
 * kept in this browser for the page’s own origin.
 *   <script src="https://…/look/report.js" data-key="…" data-event="…" data-order="…" data-value="…" defer></script>
 */
const { key, event, order, value } = document.currentScript!.dataset
const home = new URL((document.currentScript as HTMLScriptElement).src).origin
const KEPT = 'sprig-visitor'

const came = new URLSearchParams(location.search).get('sprig')
if (came && /^[0-9a-f]{32}$/.test(came)) localStorage.setItem(KEPT, came)
const visitor = localStorage.getItem(KEPT) || undefined

function tell(what: object) {
  const id = Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('')
  void fetch(home + '/report', {
    method: 'POST',
    keepalive: true,
    headers: { 'content-type': 'application/json', authorization: 'Bearer ' + key },
    body: JSON.stringify({ id, visitor, ...what }),
  })
}

if (order) tell({ kind: 'order', order, value: Number(value) })
else if (event) tell({ kind: 'event', name: event, ...(value ? { value: Number(value) } : {}) })
Object.assign(window, { sprig: { happened: (name: string, worth?: number) => tell({ kind: 'event', name, value: worth }) } })

export {}
