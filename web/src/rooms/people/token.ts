/** A token that nobody can guess, as hexadecimal digits. */
export const newToken = () =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, '0')).join('')

export const linkOf = (token: string) => `${location.origin}/link/${token}`

/** What another program shows: made up here, so that nobody else ever has it. */
export const newProgramToken = () =>
  `wo_${[...crypto.getRandomValues(new Uint8Array(24))].map((b) => b.toString(16).padStart(2, '0')).join('')}`
