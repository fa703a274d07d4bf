import * as z from 'zod'
import { callActions } from './calls'
import { documentActions } from './documents'
import { exchangeActions } from './exchange'
import { goalActions } from './goals'
import { lensActions } from './lens'
import { letterActions } from './letters'
import { libraryActions } from './library'
import { peopleActions } from './people'
import { personalizationActions } from './personalizations'
import { reportActions } from './reports'
import { resultActions } from './results'
import { segmentActions } from './segments'
import { settingActions } from './settings'
import { siteActions } from './site'
import { testActions } from './tests'
import { visitorActions } from './visitors'

export * from './action'
export * from './calls'
export * from './documents'
export * from './exchange'
export * from './goals'
export * from './lens'
export * from './letters'
export * from './library'
export * from './people'
export * from './personalizations'
export * from './reports'
export * from './results'
export * from './segments'
export * from './settings'
export * from './site'
export * from './tests'
export * from './visitors'

/** Everything the studio and the server say to each other. */
export const contract = {
  ...siteActions,
  ...documentActions,
  ...libraryActions,
  ...callActions,
  ...exchangeActions,
  ...testActions,
  ...resultActions,
  ...goalActions,
  ...reportActions,
  ...segmentActions,
  ...personalizationActions,
  ...settingActions,
  ...letterActions,
  ...lensActions,
  ...peopleActions,
  ...visitorActions,
}
export type Contract = typeof contract
export type ActionName = keyof Contract
export type Input<Name extends ActionName> = z.input<Contract[Name]['input']>
export type Parsed<Name extends ActionName> = z.output<Contract[Name]['input']>
export type Output<Name extends ActionName> = z.output<Contract[Name]['output']>

export const actionNames = Object.keys(contract) as ActionName[]

/** What an answer that is not the output looks like. */
export const faultSchema = z.object({
  fault: z.string(),
  code: z.enum(['input', 'signIn', 'role', 'missing', 'conflict', 'blocked', 'busy', 'broken']),
})
export type Fault = z.infer<typeof faultSchema>
