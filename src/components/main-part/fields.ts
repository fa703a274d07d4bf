import { componentType } from '../component-type'

export const mainPart = componentType({ type: 'mainPart', label: 'main part', fields: {}, holds: ['section'] })
