import { look } from '../look'
import type { script } from './fields'
import { scriptText } from './script-text'

export const scriptLook = look<typeof script>(({ props, mark, site }) =>
  site.runs(props.code) ? (
    <script {...mark} dangerouslySetInnerHTML={{ __html: scriptText(props.code) }} />
  ) : (
    <span className="script-place" {...mark} />
  ),
)
