import { buttonLook } from './button/look'
import { callToActionLook } from './call-to-action/look'
import { cardListLook, cardLook } from './card-list/look'
import { columnLook, columnsLook } from './columns/look'
import { formFieldLook, formLook } from './form/look'
import { headingLook } from './heading/look'
import type { Look } from './look'
import { mainPartLook } from './main-part/look'
import { menuLook } from './menu/look'
import { pageLook } from './page/look'
import { pictureLook } from './picture/look'
import { planLook, planTableLook } from './plan-table/look'
import { quoteLook } from './quote/look'
import { sectionLook } from './section/look'
import { textLook } from './text/look'

export const looks: ReadonlyMap<string, Look> = new Map([
  ['page', pageLook],
  ['mainPart', mainPartLook],
  ['section', sectionLook],
  ['columns', columnsLook],
  ['column', columnLook],
  ['heading', headingLook],
  ['text', textLook],
  ['picture', pictureLook],
  ['button', buttonLook],
  ['cardList', cardListLook],
  ['card', cardLook],
  ['planTable', planTableLook],
  ['plan', planLook],
  ['quote', quoteLook],
  ['form', formLook],
  ['formField', formFieldLook],
  ['menu', menuLook],
  ['callToAction', callToActionLook],
])
