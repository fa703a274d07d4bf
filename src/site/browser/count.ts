/*
 * Tells the site what happened on a page: that it was shown, that a varying part was really seen, what was pressed.
 * Small, deferred, without dependencies; the page does not need it. Every event has an id made here, so sending again
 * never counts twice: what the site has not confirmed is sent again, and what is left when the page goes is handed to
 * the browser to send.
 */
interface Happened {
  i: string
  k: string
  r?: string
  v?: string
  n?: string[] | string
  c?: string
  m?: string[]
  a?: string
  s?: number
  h?: string
  u?: string
  w?: string
  x?: number
  p?: number[] | number
  l?: number
  f?: number
}

const root = document.documentElement
const about = root.dataset.d
const url = '/collect'
let queue: Happened[] = []
let timer = 0
let pause = 500

const id = () => Array.from(crypto.getRandomValues(new Uint8Array(16)), (byte) => byte.toString(16).padStart(2, '0')).join('')
const bodyOf = (events: Happened[]) => JSON.stringify({ d: about, e: events })

const later = () => (timer ||= window.setTimeout(send, pause))

function send() {
  timer = 0
  const events = queue.splice(0, 50)
  if (!events.length) return
  const again = () => {
    queue = events.concat(queue)
    pause = Math.min(pause * 2, 30_000)
    later()
  }
  fetch(url, { method: 'POST', body: bodyOf(events), keepalive: true }).then((answer) => {
    if (answer.status > 499) again()
    else {
      pause = 500
      if (queue.length) later()
    }
  }, again)
}

/** How fast the page was, by the browser’s own measures: paint, answer to a press, and shifts in the worst five seconds. */
let paint = 0
let answer = 0
let shift = -1
let [burst, began, last] = [0, 0, 0]
// A page that was opened out of sight was painted for nobody.
let told = document.hidden
interface Entry extends PerformanceEntry {
  interactionId?: number
  hadRecentInput?: boolean
  value: number
}
/** What this browser can measure: one that is asked for more says nothing of it, which is not the same as nothing. */
const measures = window.PerformanceObserver?.supportedEntryTypes || []
function measure(type: string, each: (entry: Entry) => void, more: object = {}) {
  if (!measures.includes(type)) return false
  new PerformanceObserver((list) => list.getEntries().forEach((entry) => each(entry as Entry))).observe({
    type,
    buffered: true,
    ...more,
  })
  return true
}
const shown = (performance.getEntriesByType('navigation')[0] as { activationStart?: number } | undefined)?.activationStart || 0
// The W3C’s measure of the largest thing in view, under the name that this browser has for it.
const largest = measures.find((type) => type.startsWith('largest-')) || ''
measure(largest, ({ startTime }) => (paint = Math.max(1, startTime - shown)))
measure('event', ({ interactionId, duration }) => interactionId && (answer = Math.max(answer, duration)), {
  durationThreshold: 40,
})
if (
  measure('layout-shift', ({ hadRecentInput, value, startTime }) => {
    if (hadRecentInput) return
    if (startTime - last > 1000 || startTime - began > 5000) [burst, began] = [0, startTime]
    burst += value
    last = startTime
    shift = Math.max(shift, burst)
  })
)
  shift = 0

/** The page may be going: hand over what is left. */
function leave() {
  if (!told && (paint || answer)) {
    told = true
    note('speed', {
      ...(paint ? { l: Math.round(paint) } : {}),
      ...(answer ? { p: Math.round(answer) } : {}),
      ...(shift < 0 ? {} : { f: Math.round(shift * 1000) / 1000 }),
    })
  }
  while (queue.length) navigator.sendBeacon(url, bodyOf(queue.splice(0, 50)))
}

function note(kind: string, more?: Partial<Happened>) {
  queue.push({ i: id(), k: kind, ...more })
  later()
}

/** “round/version …”, as parts and whole pages carry them. */
const noteSeen = (names = '') => {
  for (const name of names.split(' ')) {
    const [r, v] = name.split('/')
    if (v) note('seen', { r, v })
  }
}

/** The page is shown: where from, by the page before and the address's own marks. */
function notePage() {
  const h = document.referrer && new URL(document.referrer).host
  const u = new URLSearchParams(location.search).get('utm_source')
  note('page', { ...(h && h !== location.host ? { h: h.slice(0, 200) } : {}), ...(u ? { u: u.slice(0, 80) } : {}) })
}

/** As long as its words take to read at 238 a minute (Brysbaert 2019); two seconds at least, a minute at most. */
const readingTime = (part: Element) =>
  Math.min(60_000, Math.max(2000, (part.textContent!.trim().split(/\s+/).length / 238) * 60_000))

/** Something was pressed: what, in which components, and where. */
function press(event: MouseEvent) {
  let part = event.target as Element | null
  const pressed = part?.closest<HTMLElement>('a,button,summary,input')
  // The second half of a double click is no press of its own.
  if (!pressed || event.detail > 1) return
  const n: string[] = []
  const m: string[] = []
  while (n.length < 12 && (part = part?.closest('[data-n]') ?? null)) {
    const { n: node, m: marker } = (part as HTMLElement).dataset
    n.push(node!)
    if (marker && m.length < 8) m.push(marker)
    part = part.parentElement
  }
  const inner = (event.target as Element).closest('[data-n]')
  const box = inner?.getBoundingClientRect()
  const tenth = (at: number, of: number) => Math.min(9, Math.max(0, Math.floor((at / of) * 10) || 0))
  // A press by the keyboard has no place.
  const p = box && event.detail ? [tenth(event.clientX - box.left, box.width), tenth(event.clientY - box.top, box.height)] : 0
  note('click', { n, ...(m.length ? { m } : {}), ...(p ? { p } : {}) })
  const link = pressed as HTMLAnchorElement
  const { href, host } = link
  if (!/^https?:/.test(href) || host === location.host) return
  note('out', { a: href.slice(0, 500) })
  // To where reports come from the site hands over who comes.
  if ((root.dataset.o || '').split(' ').includes(link.origin)) link.href = '/out?to=' + encodeURIComponent(href)
}

function start() {
  notePage()
  // Where the whole page varies, that it was shown is that it was seen.
  const whole = root.dataset.e
  if (whole) {
    if (document.hidden) addEventListener('visibilitychange', () => noteSeen(whole), { once: true })
    else noteSeen(whole)
  }
  // Only the time in which the page could be looked at.
  const stays = (root.dataset.t || '').split(' ').map(Number)
  let looked = 0
  const clock = setInterval(() => {
    if (document.hidden) return
    looked++
    if (looked === stays[0]) note('stay', { s: stays.shift()! })
    if (!stays[0]) clearInterval(clock)
  }, 1000)
  const reads = (root.dataset.r || '').split(' ')
  const readHere = (part: Element) => reads.includes((part as HTMLElement).dataset.n!)
  const watched = new Map<Element, number>()
  const done = new Set<Element>()
  const read = new Set<Element>()
  const watcher = new IntersectionObserver(
    (entries) => {
      for (const { target, isIntersecting, intersectionRatio, intersectionRect } of entries) {
        clearTimeout(watched.get(target))
        // At least half in view, or filling half the window where the part is taller than that.
        if (isIntersecting && (intersectionRatio >= 0.5 || intersectionRect.height >= innerHeight / 2)) {
          watched.set(
            target,
            window.setTimeout(() => {
              if (document.hidden) return
              const { e, c, n } = (target as HTMLElement).dataset
              if (!done.has(target)) {
                noteSeen(e)
                if (c) note('call', { c })
              }
              done.add(target)
              if (!readHere(target)) return watcher.unobserve(target)
              watched.set(
                target,
                window.setTimeout(
                  () => {
                    if (document.hidden) return
                    watcher.unobserve(target)
                    read.add(target)
                    note('read', { n })
                  },
                  readingTime(target) - 1000,
                ),
              )
            }, 1000),
          )
        }
      }
    },
    { threshold: [0, 0.1, 0.25, 0.5, 0.75, 1] },
  )
  // Observing anew makes the observer report anew: what was in view when the tab went out of sight is timed again.
  const watch = () =>
    document.querySelectorAll('body [data-e],[data-c],[data-n]').forEach((part) => {
      const toRead = readHere(part)
      if (!part.matches('[data-e],[data-c]') && !toRead) return
      watcher.unobserve(part)
      if (!done.has(part) || (toRead && !read.has(part))) watcher.observe(part)
    })
  watch()
  addEventListener('visibilitychange', () => {
    if (document.hidden) leave()
    else watch()
  })
  addEventListener('pagehide', leave)
  addEventListener('pageshow', (event) => event.persisted && notePage())
  addEventListener('click', press, true)
}

/** For scripts of the site's own: `sprig.happened('tuned-a-string', 3)`. */
Object.assign(window, { sprig: { happened: (w: string, x?: number) => note('event', { w, ...(x === undefined ? {} : { x }) }) } })

if ((document as Document & { prerendering?: boolean }).prerendering)
  addEventListener('prerenderingchange', start, { once: true })
else start()

export {}
