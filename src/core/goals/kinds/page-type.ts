import * as z from 'zod'
import { goalKind } from './kind'
import { pageShown } from './page-shown'

/** Every page of a type. */
export const pageType = goalKind(
  z.object({ kind: z.literal('pageType'), pageType: z.string().trim().min(1, 'choose the page type').max(120) }),
  {
    label: 'Any page of a type is shown',
    words: (wiring) => `a page of the type “${wiring.pageType}” is shown`,
    reaches: (wiring, event) => event.kind === 'page' && event.pageType === wiring.pageType,
    doing: (wiring, at) => [{ ...pageShown(at), pageType: wiring.pageType }],
    needs: (wiring) => ({
      kind: 'somePage',
      fits: (shown) => shown.pageType === wiring.pageType,
      lack: `No published page is of the type “${wiring.pageType}”.`,
    }),
    toldByPage: true,
    reported: false,
    begins: ({ pages }) => ({
      kind: 'pageType',
      pageType: pages.find((one) => one.pageType !== '')?.pageType ?? 'Page',
    }),
  },
)
