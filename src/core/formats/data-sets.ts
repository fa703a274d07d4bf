/** A column of a set of data: its name, and what it says in a sentence. */
interface Column {
  readonly name: string
  readonly words: string
}

interface DataSet {
  readonly words: string
  /** Whether it is of visitors one by one, if without a name: for administrators. */
  readonly ofVisitors: boolean
  readonly columns: readonly Column[]
}

const column = (name: string, words: string): Column => ({ name, words })

const round = [
  column('round', 'The round: the test with the number of its round.'),
  column('epoch', 'The stretch of constant weights in which the visitors were drawn, from 1.'),
  column('goal', 'The goal that was reached; empty for those who came; “goal--2” for the second step of a funnel.'),
  column('version', 'The version that they were given; “original” for none.'),
]
const sums = [
  column('exposed', 'Visitors who really saw the varying part, counted on the day of their first sight.'),
  column('converters', 'Of those, the ones who reached the goal for the first time on that day.'),
  column('conversions', 'How often it was reached; a goal that counts once counts once a visitor.'),
  column('worth', 'What was brought, in the currency of the site or in points; refunds taken off.'),
  column('worthSquared', 'Over visitors, the square of what each has brought.'),
  column('visits', 'Visits from the first sight on, within the days of the goal.'),
  column('visitsSquared', 'Over visitors, the square of their visits.'),
  column('visitsWorth', 'Over visitors, visits times what they brought.'),
]
const day = column('day', 'By the calendar of the site, as in 2026-03-31.')

/** What can be taken away, and what each column of it says: the dictionary is made from this, and so are the files. */
export const dataSets = {
  rounds: {
    words: 'The rounds of the test, each with its design, versions and goals as they were, and its weights.',
    ofVisitors: false,
    columns: [
      column('round', 'The round.'),
      column('number', 'From 1.'),
      column('startedAt', 'When it began (ISO 8601).'),
      column('endedAt', 'When it ended; empty while it goes on.'),
      column('pauses', 'When it was held up, as JSON.'),
      column('epochs', 'Its stretches of constant weights, as JSON.'),
      column('snapshot', 'Design, versions, edits and goals as they were, as JSON.'),
    ],
  },
  tallies: {
    words: 'What every result is computed from: sums over visitors.',
    ofVisitors: false,
    columns: [...round, day, column('assigned', 'Visitors who were given the version on that day.'), ...sums],
  },
  segments: {
    words: 'The same, by one thing at a time that is known of visitors.',
    ofVisitors: false,
    columns: [
      ...round,
      day,
      column('trait', 'What it is: device, source, region, language, returning, or segment.'),
      column('value', 'Of a segment: what it asks, as a number, with + where it fits and − where it does not.'),
      ...sums,
    ],
  },
  worths: {
    words: 'Visitors by what they have brought, in classes a tenth wide.',
    ofVisitors: false,
    columns: [
      ...round,
      column('class', 'Of n are those who brought up to 1.1 to the power of n + 1, and more than of the class below.'),
      column('visitors', 'So many.'),
      column('worth', 'What they brought together.'),
      column('worthSquared', 'The sum of its squares.'),
      column('visits', 'Their visits.'),
      column('visitsWorth', 'The sum of visits times what was brought.'),
    ],
  },
  earlier: {
    words: 'Those who saw a version by what they had done before, for each goal.',
    ofVisitors: false,
    columns: [
      ...round,
      column('past', 'new, looked (here before) or reached (this goal before).'),
      column('exposed', 'Visitors who saw it.'),
      column('converters', 'Visitors of these who reached the goal.'),
    ],
  },
  beside: {
    words: 'Those who saw a version by the version of another round that they had then.',
    ofVisitors: false,
    columns: [
      ...round.filter(({ name }) => name !== 'goal'),
      column('other', 'The other round.'),
      column('shown', 'Its version that they had.'),
      column('exposed', 'Visitors who saw the version of this round.'),
      column('converters', 'Visitors of these who reached the goal that decides.'),
    ],
  },
  doings: {
    words: 'What those did who took part, whether a goal asks for it or not.',
    ofVisitors: false,
    columns: [
      column('round', 'The round.'),
      column('version', 'The version that they were given.'),
      column('document', 'The page on which they first saw it.'),
      column('doing', 'visit, stayed, next, read, pressed, spot, after, paint, response or shift.'),
      column('what', 'The page, the component, the place in it, the goal with days, or the class of speed.'),
      column('times', 'How often.'),
      column('visitors', 'By how many.'),
    ],
  },
  enrolments: {
    words: 'Everybody who takes part, one by one, by a number that says nothing else of them.',
    ofVisitors: true,
    columns: [
      column('visitor', '128 random bits in hexadecimal.'),
      ...round.filter(({ name }) => name !== 'goal'),
      column('assignedAt', 'When they were given it (ISO 8601).'),
      column('exposedAt', 'When they first saw the part; empty where they did not.'),
      column('leftAt', 'When they were given another one, as theirs was switched off.'),
      column('traits', 'What was known of them at the first sight, as JSON.'),
      column('goals', 'What they reached, how often and what it brought, as JSON.'),
    ],
  },
  events: {
    words:
      'All that was taken in, of the whole site, in the order in which it arrived. Visitors who have not come for as many days as they are kept are forgotten with their events: what is taken away a day later has fewer of the first days.',
    ofVisitors: true,
    columns: [
      column('seq', 'Its place.'),
      column('visitor', '128 random bits in hexadecimal.'),
      column('at', 'When it happened (ISO 8601).'),
      column('kind', 'What it was.'),
      column('document', 'The page, where it has one.'),
      column('round', 'The round, where it is of one.'),
      column('version', 'The version, where it is of one.'),
      column('nodes', 'Components, from the inside out, with spaces between them.'),
      column('about', 'What it says besides, as JSON.'),
    ],
  },
} as const satisfies { readonly [Name in string]: DataSet }

export type DataSetName = keyof typeof dataSets
export const dataSetNames = Object.keys(dataSets) as readonly DataSetName[]

/** All sets with their columns, as Markdown. */
export function dataDictionary(): string {
  const sections = dataSetNames.map((name) => {
    const { words, columns, ofVisitors }: DataSet = dataSets[name]
    const rows = columns.map((one) => `| \`${one.name}\` | ${one.words} |`).join('\n')
    const who = ofVisitors ? ' For administrators.' : ''
    return `## ${name}\n\n${words}${who}\n\n| column | what it says |\n| --- | --- |\n${rows}\n`
  })
  return `# What can be taken away, column by column\n\nAs CSV (RFC 4180) or as NDJSON, one object a line; in UTF-8.\n\n${sections.join('\n')}`
}
