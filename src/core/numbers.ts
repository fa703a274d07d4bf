/** Numbers as they are read, the same everywhere: thousands separated, and no more exact than they are. */
const withDigits = [0, 1, 2].map(
  (digits) => new Intl.NumberFormat('en-GB', { minimumFractionDigits: digits, maximumFractionDigits: digits }),
)
const whole = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 0 })

/** 12345.6 → “12,346”. */
export const count = (value: number): string => whole.format(value)

/** What is only about so many: 296,222 → “300,000”, 606 → “610”. */
export function roughCount(value: number): string {
  const unit = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, Math.abs(value)))) - 1)
  return count(Math.round(value / unit) * unit)
}

/** 0.0412 → “4.1%”, 640.44 → “64,044%”; small rates keep two figures. */
export function percent(share: number): string {
  const value = share * 100
  const digits = Math.abs(value) >= 10 || value === 0 ? (Math.abs(value) >= 99.95 ? 0 : 1) : Math.abs(value) >= 1 ? 1 : 2
  const words = (withDigits[digits] ?? whole).format(value)
  return `${words.replace(/\.0+$/, '')}%`
}

/** A share of a sample, which is no more exact: 0.128 → “13%”, and what is very small as such. */
export function roughPercent(share: number): string {
  if (share > 0 && share < 0.01) return 'less than 1%'
  return share > 0.99 && share < 1 ? 'more than 99%' : `${Math.round(share * 100)}%`
}

/** 0.2 → “+20%”, −0.034 → “−3.4%”. */
export function signed(share: number): string {
  return `${share > 0 ? '+' : share < 0 ? '−' : '±'}${percent(Math.abs(share))}`
}

/** The limit of an interval, which is no more exact than it is wide: 0.783 → “+78%”, 0.0067 → “+0.7%”. */
export function limitWords(share: number): string {
  const value = Math.abs(share) * 100
  const words = value >= 9.95 ? count(value) : value.toFixed(1).replace(/\.0$/, '')
  const sign = words === '0' ? '±' : share > 0 ? '+' : '−'
  return `${sign}${words}%`
}

/** A difference of rates: 0.0123 → “+1.2 points”, of a hundred visitors. */
export function points(difference: number): string {
  const value = Math.abs(difference) * 100
  const words = value >= 9.95 ? count(value) : value >= 0.095 ? value.toFixed(1).replace(/\.0$/, '') : value.toFixed(2)
  const sign = Number(words) === 0 ? '±' : difference > 0 ? '+' : '−'
  return `${sign}${Number(words) === 0 ? '0' : words} ${words === '1' ? 'point' : 'points'}`
}

/** Less than this part of all visitors is no loss that anybody would see. */
const LITTLE = 0.00005

/** What is lost, as a difference of rates that is never below nothing: 0.012 → “1.2 points”. */
export function lossWords(loss: number): string {
  return loss < LITTLE ? 'next to nothing' : points(loss).replace('+', '')
}

/** “between +0.2 and +1.4 points”. */
export function pointsBetween([lower, upper]: readonly [number, number]): string {
  return `between ${points(lower).replace(/ points?$/, '')} and ${points(upper)}`
}

/** A p-value: 0.0312 → “0.031”, and what is very small as such. */
export function pValueWords(p: number): string {
  return p < 0.001 ? 'under 0.001' : p.toFixed(3)
}

export function plural(value: number, one: string, many: string): string {
  return `${count(value)} ${value === 1 ? one : many}`
}
