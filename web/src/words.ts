import made from './words.trade.json'

const { words, imperatives } = made

/**
 * The words of the page. What codes of the trade are called comes from the core (words.trade.json, made by `make types`);
 * the page's own words stand here, so that another language needs no change in a room.
 */
const trade: Record<string, Record<string, string>> = words

/** What a code is called; the code itself where it has no other name. A state names what it came from behind an @. */
export function say(kind: keyof typeof words, code: string | undefined): string {
  if (!code) return ''
  const whole = trade[kind]?.[code]
  if (whole) return whole
  const [, name = '', from = ''] = /^([^@ ~]+)[@ ]?(.*?)~?$/.exec(code) ?? []
  const known = trade[kind]?.[name]
  return known ? `${known} ${from}`.trim() : code
}

/** The act of a plan in the imperative; nothing where what it is done to is an order by itself. */
export const act = (verb: string, what = '') =>
  what.includes(' ') && imperatives.includes(what.split(' ')[0]!) ? '' : say('verb', verb)
/** A step of a plan as it is said to the hand that does it. */
/** What a step is done with; a screw that names no tool is turned by the driver of its recess, never by hand. */
export const toolOf = (s?: { tool?: string; drive?: string; drive_size?: string }) =>
  s?.tool || (s?.drive ? `${[s.drive, s.drive_size].filter(Boolean).join(' ')} driver` : 'by hand')
export const order = (verb: string, what = '') => `${act(verb, what)} ${what}`.trim()

/** The rooms as they are called everywhere, by the name of their route. */
export const rooms: Record<string, string> = {
  find: 'First page',
  job: 'Job card',
  fault: 'Find a fault',
  ways: 'Ways in',
  score: 'Score',
  compare: 'Compare models',
  fit: 'What fits',
  parts: 'Parts desk',
  accounts: 'Accounts',
  me: 'Your account',
  trail: 'Who did what',
  link: 'One-time link',
  day: 'Bench day',
  intake: 'Intake',
  strip: 'Teardown',
  narration: 'Recording',
  swap: 'Swap tests',
  follow: 'The way, step by step',
  visit: 'A phone that is here',
  repair: 'Follow the repair',
  closeup: 'Close-up',
  mat: 'Screw sheet',
  'dry-runs': 'Dry runs',
  'dry-run': 'Dry run',
  handover: 'Hand-over',
  nowhere: 'Nothing here',
}

/** Fields of forms whose code does not read as their label. */
const fields: Record<string, string> = {
  for_model_id: 'Model',
  model_id: 'Model',
  seller_id: 'Seller',
  price_minor: 'Price',
  priced_on: 'Date of the price',
  covers: 'Parts needed',
  item: 'Part',
  lead_days: 'Days until it is there',
  lead_p50: 'Days, usually',
  lead_p90: 'Days, nine of ten',
  shipping_minor: 'Shipping',
  free_above_minor: 'Free shipping above',
  labour_minor: 'An hour at the bench',
  asked_on: 'Asked on',
  promised_on: 'Promised on',
  received_on: 'Received on',
  hurt_part: 'Part that was damaged',
  hurt_step: 'Step at which it was damaged',
  what: 'What',
  frees: 'Parts that come out',
  after: 'Done before it',
  joint: 'Fastening',
  display: 'Name to show',
  due_s: 'Due',
  limit_minor: 'What it may cost',
  at: 'Time',
}

/** The name of a field as it stands on a form, from its place in a change; nothing for what is no field. */
export function fieldName(location: string): string {
  const [where, ...rest] = location.includes('.') ? location.split('.') : ['body', location]
  if (where === 'path' || where === 'query' || !rest.length) return ''
  const last = rest.filter((p) => !/^\d+$/.test(p)).at(-1) ?? ''
  const [name = '', place] = last.split(/[[\]]/)
  const unit = { mm: 'mm', g: 'g', wh: 'Wh', mah: 'mAh', minor: '', id: '', s: 's' }[/_([a-z]+)$/.exec(name)?.[1] ?? '']
  const words = fields[name] ?? name.replace(unit === undefined ? /$^/ : /_[a-z]+$/, '').replaceAll('_', ' ')
  const label = words.charAt(0).toUpperCase() + words.slice(1)
  return `${label}${fields[name] || !unit ? '' : `, ${unit}`}${place ? ` ${Number(place) + 1}` : ''}`
}

/** Kinds of thing that find meets. */
export const kinds: Record<string, string> = {
  model: 'Models',
  part: 'Parts',
  phone: 'Phones',
  study: 'Studies',
  fault: 'Phones with a fault',
  visit: 'Phones that are here',
  job: 'Jobs',
  piece: 'Pieces in stock',
  lot: 'Lots',
  offer: 'Offers',
  order: 'Orders',
}

/** What is allowed in a field, as people say it. */
export function plainly(message: string): string {
  const said: [RegExp, string][] = [
    [/^allowed: (.*)$/, 'allowed is $1'],
    [/^expected number >= (.*)$/, 'allowed is $1 or more'],
    [/^expected number > (.*)$/, 'allowed is more than $1'],
    [/^expected number <= (.*)$/, 'allowed is at most $1'],
    [/^expected length >= 1$/, 'something must stand here'],
    [/^expected length >= (.*)$/, 'at least $1 signs'],
    [/^expected length <= (.*)$/, 'at most $1 signs'],
    [/^expected value to be one of "(.*)"$/, 'allowed is $1'],
    [/^expected string to be RFC 4122 uuid.*$/, 'choose one from the list'],
    [/^expected string to be RFC 3339.*$/, 'a date is wanted'],
    [/^expected string to match pattern .*$/, 'it is written another way'],
    [/^expected required property (.*) to be present$/, 'something must stand here'],
    [/^expected (integer|number)$/, 'a number is wanted'],
  ]
  for (const [from, to] of said) if (from.test(message)) return message.replace(from, to)
  return message
}
