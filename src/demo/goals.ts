import { goalSchema, type Wiring } from '@/core/goals'

const goal = (id: string, name: string, wiring: Wiring | { kind: 'page'; document: string } | object, more: object = {}) =>
  goalSchema.parse({ id, name, wiring, ...more })

/** One of every kind that the library can hold. */
export const demoGoals = [
  goal('reserved', 'Reserved an instrument', { kind: 'page', document: 'reserved' }, { worth: 20 }),
  goal('lesson-booked', 'Booked a trial lesson', { kind: 'page', document: 'trial-thanks' }, { worth: 5 }),
  goal('plans-seen', 'Looked at the plans', { kind: 'page', document: 'plans' }),
  goal('january-read', 'Opened “How a cello survives January”', { kind: 'page', document: 'article-january' }),
  goal('wrote', 'Came to the contact page', { kind: 'page', document: 'contact' }, { worth: 2 }),
  goal('hero-button', 'Pressed “See the instruments”', { kind: 'click', document: 'home', node: 'home-to-instruments' }),
  goal('reserve-pressed', 'Pressed any “Reserve”', { kind: 'marker', marker: 'reserve' }, { counts: 'everyTime' }),
  goal('reserve-page', 'Came to the reservation form', { kind: 'page', document: 'reserve' }),
  goal('reserve-sent', 'Sent the reservation', { kind: 'form', document: 'reserve', node: 'reserve-form' }, { worth: 20 }),
  goal('any-article', 'Opened an article of the journal', { kind: 'pageType', pageType: 'Article' }),
  goal('any-workshop', 'Looked into the workshops', { kind: 'address', by: 'startsWith', text: '/workshops' }),
  goal('guild', 'Went on to the menders’ guild', { kind: 'outbound', by: 'host', text: 'menders-guild.example' }),
  goal('promise-read', 'Read what we promise', { kind: 'read', document: 'about', node: 'about-promise' }),
  goal('half-a-minute', 'Stayed half a minute on a page', { kind: 'stay', seconds: 30 }),
  goal('no-bounce', 'Did not leave at once', { kind: 'noBounce', seconds: 5 }),
  goal(
    'ordered',
    'First month ordered',
    { kind: 'order' },
    { counts: 'everyTime', worthIn: 'money', worthFrom: 'reported', worth: 24, withinDays: 30 },
  ),
  goal('played', 'Played it in the shop', { kind: 'event', event: 'played-in-the-shop' }, { worth: 3 }),
  goal('got-in-touch', 'Got in touch', { kind: 'anyOf', goals: ['lesson-booked', 'wrote'] }),
  goal(
    'way-to-reserve',
    'The way to a reservation',
    { kind: 'steps', goals: ['reserve-pressed', 'reserve-page', 'reserved'] },
    { worth: 24, worthIn: 'money' },
  ),
]
