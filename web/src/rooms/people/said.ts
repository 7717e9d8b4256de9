/** Kinds of row, and fields, whose name in the record does not say what they are. */
const names: Record<string, string> = {
  Shelf: 'pieces in stock',
  Work: 'job',
  Exchange: 'rate of exchange',
  SwapAct: 'act between swap tests',
  Trial: 'swap test',
  PlanStep: 'step of the plan',
  LogEntry: 'log entry',
  FactSaying: 'saying of a fact',
  ScoreMark: 'kept score',
  OwnWord: 'word of the workshop',
  Unit: 'phone',
  BenchJob: 'job of the bench day',
  Rubric: 'scoring method',
  frees: 'comes out',
  joint: 'fastening',
  origin: 'where from',
  hurt_part: 'damaged part',
  slot: 'takes part in swap tests',
}
/** A name of the record in words. */
export const said = (name: string) =>
  names[name] ??
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
