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
  n?: string[]
  c?: string
}

const about = document.documentElement.dataset.d
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

/** The page may be going: hand over what is left. */
function leave() {
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

function start() {
  note('page')
  // Where the whole page varies, that it was shown is that it was seen.
  const root = document.documentElement.dataset.e
  if (root) {
    if (document.hidden) addEventListener('visibilitychange', () => noteSeen(root), { once: true })
    else noteSeen(root)
  }
  const watched = new Map<Element, number>()
  const done = new Set<Element>()
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
              watcher.unobserve(target)
              done.add(target)
              const { e, c } = (target as HTMLElement).dataset
              noteSeen(e)
              if (c) note('call', { c })
            }, 1000),
          )
        }
      }
    },
    { threshold: [0, 0.1, 0.25, 0.5, 0.75, 1] },
  )
  // Observing anew makes the observer report anew: what was in view when the tab went out of sight is timed again.
  const watch = () =>
    document.querySelectorAll('body [data-e],[data-c]').forEach((part) => {
      watcher.unobserve(part)
      if (!done.has(part)) watcher.observe(part)
    })
  watch()
  addEventListener('visibilitychange', () => {
    if (document.hidden) leave()
    else watch()
  })
  addEventListener('pagehide', leave)
  addEventListener('pageshow', (event) => event.persisted && note('page'))
  addEventListener(
    'click',
    (event) => {
      let part = event.target as Element | null
      if (!part?.closest('a,button,summary,input')) return
      const n: string[] = []
      while (n.length < 12 && (part = part?.closest('[data-n]') ?? null)) {
        n.push((part as HTMLElement).dataset.n!)
        part = part.parentElement
      }
      if (n.length) note('click', { n })
    },
    true,
  )
}

if ((document as Document & { prerendering?: boolean }).prerendering)
  addEventListener('prerenderingchange', start, { once: true })
else start()

export {}
