/** A token that nobody can guess, as hexadecimal digits. */
export const newToken = () =>
  [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, '0')).join('')

export const linkOf = (token: string) => `${location.origin}/link/${token}`
