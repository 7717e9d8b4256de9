/** A name of the record in words. */
export const said = (name: string) =>
  name
    .replace(/_/g, ' ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
/** What was done to a row. */
export const done: Record<string, string> = {
  create: 'made',
  update: 'changed',
  delete: 'deleted',
  restore: 'brought back',
}
