/** The code as it stands between the tags: nothing in it can end the element early (HTML standard, script contents). */
export function scriptText(code: string): string {
  return code.replace(/<(\/script|script|!--)/gi, '\\x3C$1')
}
