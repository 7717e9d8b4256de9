/** What the codes of verdicts are called on a page. */
const verdicts: Record<string, string> = {
  works: 'works',
  'works with notice': 'works, with notice',
  loses: 'loses functions',
  intermittent: 'comes and goes',
  interaction: 'lost only together',
}
/** What the drawn eyes mean. */
export const eyeWords = { shut: 'nothing seen yet', half: 'half proven', open: 'proven' }
export const verdictWords = (mark: string) => verdicts[mark] ?? mark

/** A verb of a plan as it is said to somebody who follows it. */
export const act = (verb: string) => ({ bracket: 'take off', solvent: 'wet' })[verb] ?? verb
