import { logger } from '@/serving/logger'

export const log = logger('studio')
