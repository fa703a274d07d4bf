import { accordionItemLook, accordionLook } from './accordion/look'
import { bannerLook } from './banner/look'
import { buttonLook } from './button/look'
import { callToActionLook } from './call-to-action/look'
import { cardListLook, cardLook } from './card-list/look'
import { columnLook, columnsLook } from './columns/look'
import { formFieldLook, formLook } from './form/look'
import { galleryLook, galleryPictureLook } from './gallery/look'
import { headingLook } from './heading/look'
import { heroLook } from './hero/look'
import { letterLook } from './letter/look'
import type { Look } from './look'
import { mainPartLook } from './main-part/look'
import { menuLook } from './menu/look'
import { pageLook } from './page/look'
import { pageListLook } from './page-list/look'
import { pictureLook } from './picture/look'
import { planLook, planTableLook } from './plan-table/look'
import { quoteLook } from './quote/look'
import { scriptLook } from './script/look'
import { sectionLook } from './section/look'
import { sharedLook, sharedPartLook } from './shared/look'
import { stepLook, stepsLook } from './steps/look'
import { tabLook, tabsLook } from './tabs/look'
import { testimonialLook } from './testimonial/look'
import { textLook } from './text/look'
import type { TypeName } from './types'
import { videoLook } from './video/look'

/** How each type looks; `null` for one that is only shown by another, of whose document it is the root or a part. */
const all: { readonly [Name in TypeName]: Look | null } = {
  page: pageLook,
  mainPart: mainPartLook,
  section: sectionLook,
  columns: columnsLook,
  column: columnLook,
  heading: headingLook,
  text: textLook,
  picture: pictureLook,
  button: buttonLook,
  cardList: cardListLook,
  card: cardLook,
  planTable: planTableLook,
  plan: planLook,
  quote: quoteLook,
  form: formLook,
  formField: formFieldLook,
  menu: menuLook,
  callToAction: callToActionLook,
  hero: heroLook,
  gallery: galleryLook,
  galleryPicture: galleryPictureLook,
  video: videoLook,
  accordion: accordionLook,
  accordionItem: accordionItemLook,
  tabs: tabsLook,
  tab: tabLook,
  steps: stepsLook,
  step: stepLook,
  testimonial: testimonialLook,
  banner: bannerLook,
  pageList: pageListLook,
  shared: sharedLook,
  sharedPart: sharedPartLook,
  script: scriptLook,
  letter: letterLook,
  menuTree: null,
  menuItem: null,
  callToActionText: null,
  style: null,
}

export const looks: ReadonlyMap<string, Look | null> = new Map(Object.entries(all))
