import type { ActionName, Contract, Parsed } from './contract'

/** The actions that change something. */
export type ChangeName = { [Name in ActionName]: Contract[Name] extends { readonly changes: true } ? Name : never }[ActionName]

/** What an action changed, for whoever asks later. */
export interface Thing {
  readonly kind:
    | 'document'
    | 'version'
    | 'test'
    | 'goal'
    | 'media'
    | 'campaign'
    | 'setting'
    | 'letter'
    | 'key'
    | 'order'
    | 'rehearsal'
    | 'stand-in'
    | 'person'
    | 'visitor'
    | 'segment'
    | 'site'
  readonly id: string
}

interface Change<Name extends ChangeName> {
  /** As in “Wilma Osk … ”. */
  readonly words: string
  /** What it is about, from what was asked. */
  readonly thing: (input: Parsed<Name>) => Thing
}

const thing = (kind: Thing['kind'], id: string | number = ''): Thing => ({ kind, id: String(id) })

/** Everything that can be changed here, in the words of the audit trail. Whatever changes something stands here. */
export const changes: { readonly [Name in ChangeName]: Change<Name> } = {
  'document.edit': { words: 'edited', thing: ({ document }) => thing('document', document) },
  'document.publish': { words: 'published', thing: ({ document }) => thing('document', document) },
  'bin.takeOff': { words: 'took off the site', thing: ({ document }) => thing('document', document) },
  'bin.put': { words: 'moved to the bin', thing: ({ document }) => thing('document', document) },
  'bin.take': { words: 'brought back from the bin', thing: ({ document }) => thing('document', document) },
  'bin.putMedia': { words: 'moved to the bin', thing: ({ name }) => thing('media', name) },
  'bin.takeMedia': { words: 'brought back from the bin', thing: ({ name }) => thing('media', name) },
  'bin.takeGoal': { words: 'brought back from the bin', thing: ({ goal }) => thing('goal', goal) },
  'bin.takeCampaign': { words: 'brought back from the bin', thing: ({ name }) => thing('campaign', name) },
  'campaign.remove': { words: 'moved to the bin', thing: ({ name }) => thing('campaign', name) },
  'document.restore': { words: 'restored an earlier revision of', thing: ({ document }) => thing('document', document) },
  'document.create': { words: 'created', thing: ({ kind, title }) => thing('document', `${kind} “${title}”`) },
  'document.saveAs': { words: 'made a template or shared component of', thing: ({ document }) => thing('document', document) },
  'version.fill': { words: 'filled a version', thing: ({ id }) => thing('version', id) },
  'media.save': { words: 'described a file', thing: ({ name }) => thing('media', name) },
  'campaign.create': { words: 'created a campaign', thing: ({ name }) => thing('campaign', name) },
  'letter.send': { words: 'sent a newsletter', thing: ({ document }) => thing('document', document) },
  'letter.stop': { words: 'stopped sending a newsletter', thing: ({ number }) => thing('letter', number) },
  'setting.save': { words: 'changed the settings', thing: () => thing('setting', 'site') },
  'format.take': { words: 'brought a file in', thing: ({ as, title }) => thing('site', `${as} ${title}`.trim()) },
  'version.create': { words: 'made a version in', thing: ({ document }) => thing('document', document) },
  'version.save': { words: 'edited a version', thing: ({ id }) => thing('version', id) },
  'version.remove': { words: 'removed a version', thing: ({ id }) => thing('version', id) },
  'version.order': { words: 'ordered the versions in', thing: ({ document }) => thing('document', document) },
  'personalization.publish': {
    words: 'put versions for some visitors live in',
    thing: ({ document }) => thing('document', document),
  },
  'personalization.withdraw': {
    words: 'took versions for some visitors off',
    thing: ({ document }) => thing('document', document),
  },
  'personalization.plan': {
    words: 'changed how the gain of rules is measured in',
    thing: ({ document }) => thing('document', document),
  },
  'personalization.learned': { words: 'wrote a lesson on rules', thing: ({ id }) => thing('site', id) },
  'lens.save': { words: 'saved a made-up visitor', thing: ({ name }) => thing('site', `“${name}”`) },
  'lens.remove': { words: 'removed a made-up visitor', thing: ({ id }) => thing('site', id) },
  'segment.create': { words: 'made a segment', thing: ({ name }) => thing('segment', `“${name}”`) },
  'segment.save': { words: 'changed a segment', thing: ({ name }) => thing('segment', `“${name}”`) },
  'segment.remove': { words: 'removed a segment', thing: ({ id }) => thing('segment', id) },
  'test.create': { words: 'made a test in', thing: ({ parts }) => thing('document', parts[0]?.document ?? '') },
  'test.change': { words: 'changed the versions of a running test', thing: ({ test }) => thing('test', test) },
  'test.save': { words: 'edited', thing: ({ test }) => thing('test', test) },
  'test.remove': { words: 'removed', thing: ({ test }) => thing('test', test) },
  'test.start': { words: 'started', thing: ({ test }) => thing('test', test) },
  'test.schedule': { words: 'set to start by itself', thing: ({ test }) => thing('test', test) },
  'test.unschedule': { words: 'made a draft again of', thing: ({ test }) => thing('test', test) },
  'test.takeLooksBack': { words: 'took links to look at back of', thing: ({ test }) => thing('test', test) },
  'test.newCalendarAddress': { words: 'made a new address of the calendar for', thing: () => thing('person', 'self') },
  'test.look': { words: 'made a link to look at', thing: ({ test }) => thing('test', test) },
  'test.again': { words: 'made ready to run again', thing: ({ test }) => thing('test', test) },
  'test.pause': { words: 'paused', thing: ({ test }) => thing('test', test) },
  'test.goOn': { words: 'let go on', thing: ({ test }) => thing('test', test) },
  'test.nextRound': { words: 'opened the next round of', thing: ({ test }) => thing('test', test) },
  'test.end': { words: 'ended', thing: ({ test }) => thing('test', test) },
  'test.decide': { words: 'decided', thing: ({ test }) => thing('test', test) },
  'test.note': { words: 'wrote a note on', thing: ({ test }) => thing('test', test) },
  'test.tag': { words: 'tagged', thing: ({ test }) => thing('test', test) },
  'test.undo': { words: 'took the decision back on', thing: ({ test }) => thing('test', test) },
  'goal.create': { words: 'created a goal', thing: ({ name }) => thing('goal', `“${name}”`) },
  'goal.save': { words: 'edited a goal', thing: ({ id }) => thing('goal', id) },
  'goal.publish': { words: 'published a goal', thing: ({ goal }) => thing('goal', goal) },
  'goal.archive': { words: 'archived or brought back a goal', thing: ({ goal }) => thing('goal', goal) },
  'goal.remove': { words: 'moved to the bin a goal', thing: ({ goal }) => thing('goal', goal) },
  'key.create': { words: 'made a key for', thing: ({ origin }) => thing('key', origin) },
  'key.revoke': { words: 'took a key back', thing: ({ id }) => thing('key', id) },
  'order.take': { words: 'brought a table of orders in', thing: () => thing('order') },
  'standIn.setList': { words: 'told the list service how to behave', thing: ({ mood }) => thing('stand-in', mood) },
  'standIn.closeOrder': { words: 'closed an order', thing: ({ order }) => thing('order', order) },
  'standIn.refundOrder': { words: 'paid an order back', thing: ({ order }) => thing('order', order) },
  'rehearsal.start': { words: 'started a rehearsal of', thing: ({ test }) => thing('test', test) },
  'rehearsal.cancel': { words: 'cancelled a rehearsal', thing: ({ id }) => thing('rehearsal', id) },
  'notebook.write': { words: 'wrote a lesson on', thing: ({ test }) => thing('test', test) },
  'person.invite': { words: 'invited', thing: ({ email }) => thing('person', email) },
  'person.setRole': { words: 'changed the role of', thing: ({ person }) => thing('person', person) },
  'person.disable': { words: 'closed or opened the account of', thing: ({ person }) => thing('person', person) },
  'person.reset': { words: 'made a link to a new password for', thing: ({ person }) => thing('person', person) },
  'person.signOut': { words: 'signed out everywhere', thing: ({ person }) => thing('person', person) },
  // Whoever was forgotten cannot be found by what is written down of it.
  'visitor.erase': {
    words: 'took away all that was kept of',
    thing: ({ visitor }) => thing('visitor', `${visitor.slice(0, 6)}…`),
  },
  'self.save': { words: 'changed their own name or e-mail', thing: () => thing('person', 'self') },
}

/** What else is written down: not asked for by an action of the contract. */
export const otherChanges = {
  'account.signIn': 'signed in',
  'account.signOut': 'signed out',
  'account.prove': 'gave their own password',
  'account.password': 'chose a new password',
  'account.link': 'used a link to set a password',
  'account.forgot': 'asked for a link to a new password',
  'media.bring': 'brought a file in',
  'order.look': 'sent a table of orders',
  'archive.look': 'looked at what an archive would change',
  'archive.load': 'loaded a site from an archive',
  'archive.save': 'saved the site as an archive',
  'data.take': 'took data of visitors away as a file',
  'test.byItself': 'did by itself what it was told to',
  'person.command': 'was changed on the command line',
} as const
export type OtherChange = keyof typeof otherChanges

/** What somebody did, in words; what a later version of this program wrote down is said by its name. */
export function changeWords(action: string): string {
  if (Object.hasOwn(changes, action)) return changes[action as ChangeName].words
  return Object.hasOwn(otherChanges, action) ? otherChanges[action as OtherChange] : action
}

/** The names of what is said with these words, for whoever searches by them. */
export function changesSaid(words: string): string[] {
  const said = [
    ...Object.entries(changes).map(([name, change]) => [name, change.words] as const),
    ...Object.entries(otherChanges),
  ]
  return said.flatMap(([name, one]) => (one.toLowerCase().includes(words.toLowerCase()) ? [name] : []))
}
