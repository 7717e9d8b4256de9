import { api, take } from '../../api/client'
import type { Header } from '../../shared/change'

/** A field of a form of the desk. Money is typed in the currency of the field `of` and kept in minor units. */
export interface Field {
  key: string
  label: string
  kind:
    'text' | 'number' | 'money' | 'date' | 'choice' | 'seller' | 'model' | 'covers' | 'list' | 'yes' | 'share' | 'part'
  of?: string
  choices?: readonly string[]
  wide?: boolean
}

export type Facts = Record<string, unknown>
export interface Kept extends Facts {
  id: string
  version: number
}

/** One kind of row of the desk: its form, and how it is written. */
export interface RowKind {
  name: string
  fields: Field[]
  add: (header: Header, body: Facts) => Promise<unknown>
  change: (header: Header, id: string, body: Facts) => Promise<unknown>
  remove: (header: Header, id: string, version: number) => Promise<Kept>
  restore: (header: Header, id: string, version: number) => Promise<unknown>
}

/** All rows of the desk are written alike, so that one description of the interface is enough for them. */
const raw = api as unknown as Record<
  'POST' | 'PUT' | 'DELETE',
  (path: string, init: object) => Promise<{ data?: Kept; error?: unknown; response: Response }>
>
const at = (header: Header, id: string, version: number) => ({
  params: { path: { id }, query: { version }, header },
})
const writes = (path: string): Omit<RowKind, 'name' | 'fields'> => ({
  add: (header, body) => take(raw.POST(path, { params: { header }, body })),
  change: (header, id, body) => take(raw.PUT(`${path}/{id}`, { params: { path: { id }, header }, body })),
  remove: (header, id, version) => take(raw.DELETE(`${path}/{id}`, at(header, id, version))),
  restore: (header, id, version) => take(raw.POST(`${path}/{id}/restore`, at(header, id, version))),
})

const grades = ['original', 'used', 'copy'] as const
const jobs = ['battery', 'screen', 'back-glass', 'port', 'camera'] as const

export const kinds = {
  seller: {
    name: 'Seller',
    ...writes('/api/sellers'),
    fields: [
      { key: 'name', label: 'Name', kind: 'text', wide: true },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'shipping_minor', label: 'Shipping', kind: 'money', of: 'currency' },
      { key: 'free_above_minor', label: 'Free from', kind: 'money', of: 'currency' },
      { key: 'lead_p50', label: 'Days, usual', kind: 'number' },
      { key: 'lead_p90', label: 'Days, nine of ten', kind: 'number' },
      { key: 'refund', label: 'Comes back for a bad one (0 to 1)', kind: 'share' },
      { key: 'return_cost_minor', label: 'Cost of sending back', kind: 'money', of: 'currency' },
      { key: 'claim_days', label: 'Days to tell of a bad one', kind: 'number' },
      { key: 'greeting', label: 'Mails begin with', kind: 'text' },
      { key: 'note', label: 'Note', kind: 'text', wide: true },
    ],
  },
  offer: {
    name: 'Offer',
    ...writes('/api/offers'),
    fields: [
      { key: 'title', label: 'What it is', kind: 'text', wide: true },
      { key: 'seller_id', label: 'Seller', kind: 'seller' },
      { key: 'for_model_id', label: 'For the model', kind: 'model' },
      { key: 'covers', label: 'Fills (battery; screws 2)', kind: 'covers', wide: true },
      { key: 'grade', label: 'Grade', kind: 'choice', choices: grades },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'price_minor', label: 'Price of the pack', kind: 'money', of: 'currency' },
      { key: 'priced_on', label: 'Price of the day', kind: 'date' },
      { key: 'stock', label: 'Packs to be had', kind: 'number' },
      { key: 'lead_days', label: 'Days, if not the seller’s', kind: 'number' },
      { key: 'lot', label: 'Lot', kind: 'text' },
      { key: 'code', label: 'The seller’s code', kind: 'text' },
    ],
  },
  exchange: {
    name: 'Rate of exchange',
    ...writes('/api/exchanges'),
    fields: [
      { key: 'from', label: 'One unit of', kind: 'text' },
      { key: 'to', label: 'in', kind: 'text' },
      { key: 'rate', label: 'is', kind: 'number' },
      { key: 'rated_on', label: 'on the day', kind: 'date' },
    ],
  },
  price: {
    name: 'Price',
    ...writes('/api/prices'),
    fields: [
      { key: 'what', label: 'Of', kind: 'choice', choices: ['refurbished', 'salvage', ...jobs] },
      { key: 'for_model_id', label: 'Model', kind: 'model' },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'price_minor', label: 'Price', kind: 'money', of: 'currency' },
      { key: 'priced_on', label: 'On the day', kind: 'date' },
    ],
  },
  delivery: {
    name: 'Delivery',
    ...writes('/api/deliveries'),
    fields: [
      { key: 'seller_id', label: 'Seller', kind: 'seller' },
      { key: 'for_model_id', label: 'For the model', kind: 'model' },
      { key: 'item', label: 'What', kind: 'text' },
      { key: 'grade', label: 'Grade', kind: 'choice', choices: grades },
      { key: 'lot', label: 'Lot, as on the delivery', kind: 'text' },
      { key: 'size', label: 'Pieces', kind: 'number' },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'price_minor', label: 'Price of a piece', kind: 'money', of: 'currency' },
      { key: 'received_on', label: 'Came in on', kind: 'date' },
      { key: 'inspected', label: 'Looked at', kind: 'number' },
      { key: 'bad', label: 'Bad', kind: 'number' },
      { key: 'reasons', label: 'Why, one a line', kind: 'list', wide: true },
    ],
  },
  shelf: {
    name: 'Pieces in stock',
    ...writes('/api/shelves'),
    fields: [
      { key: 'for_model_id', label: 'For the model', kind: 'model' },
      { key: 'item', label: 'What', kind: 'text' },
      { key: 'grade', label: 'Grade', kind: 'choice', choices: grades },
      { key: 'quantity', label: 'Pieces', kind: 'number' },
      { key: 'reserved', label: 'Reserved', kind: 'number' },
      { key: 'on_order', label: 'On order', kind: 'number' },
      { key: 'place', label: 'Place', kind: 'text' },
      { key: 'quarantine', label: 'In quarantine, why', kind: 'text' },
      { key: 'origin', label: 'Lot, or where it came out of', kind: 'text' },
      { key: 'best_before', label: 'Best before', kind: 'date' },
    ],
  },
  work: {
    name: 'Job',
    ...writes('/api/work-orders'),
    fields: [
      { key: 'for_model_id', label: 'Model', kind: 'model' },
      { key: 'job', label: 'Job', kind: 'choice', choices: jobs },
      {
        key: 'status',
        label: 'Status',
        kind: 'choice',
        choices: ['asked', 'promised', 'parts ordered', 'on the bench', 'closed', 'refused'],
      },
      { key: 'ref', label: 'Our reference (no names)', kind: 'text' },
      { key: 'asked_on', label: 'Asked on', kind: 'date' },
      { key: 'promised_on', label: 'Promised for', kind: 'date' },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'price_minor', label: 'Price', kind: 'money', of: 'currency' },
      { key: 'minutes', label: 'Minutes at the bench', kind: 'number' },
      { key: 'went', label: 'How it went, once closed', kind: 'choice', choices: ['', 'fine', 'incident', 'gave up'] },
      { key: 'hurt_part', label: 'What was damaged', kind: 'part' },
      { key: 'overrode', label: 'Taken against the advice by', kind: 'text' },
      { key: 'why', label: 'Why refused, or taken all the same', kind: 'text', wide: true },
    ],
  },
  need: {
    name: 'Part to buy',
    ...writes('/api/needs'),
    fields: [
      { key: 'for_model_id', label: 'For the model', kind: 'model' },
      { key: 'item', label: 'Part (battery, screws …)', kind: 'text' },
      { key: 'quantity', label: 'Pieces', kind: 'number' },
      { key: 'note', label: 'Why', kind: 'text', wide: true },
    ],
  },
  word: {
    name: 'Word',
    ...writes('/api/words'),
    fields: [
      { key: 'say', label: 'What is said', kind: 'text' },
      { key: 'means', label: 'What it means', kind: 'text' },
      {
        key: 'kind',
        label: 'It is a',
        kind: 'choice',
        choices: ['part', 'check', 'tool', 'drive', 'method', 'material', 'model', 'unit', 'mishearing'],
      },
    ],
  },
} satisfies Record<string, RowKind>

export type KindName = keyof typeof kinds
