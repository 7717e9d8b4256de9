import { api, take, type Schemas } from '../../api/client'
import type { Header } from '../../shared/change'

/** A field of a form of the desk. Money is typed in the currency of the field `of` and kept in minor units. */
export interface Field {
  key: string
  label: string
  kind: 'text' | 'number' | 'money' | 'date' | 'choice' | 'seller' | 'model' | 'covers' | 'list' | 'yes' | 'share'
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

const grades = ['original', 'used', 'copy'] as const
const path = (header: Header, id: string) => ({ path: { id }, header })
const at = (header: Header, id: string, version: number) => ({ path: { id }, query: { version }, header })
const jobs = ['battery', 'screen', 'back-glass', 'port', 'camera'] as const

export const kinds = {
  seller: {
    name: 'Seller',
    fields: [
      { key: 'name', label: 'Name', kind: 'text', wide: true },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'shipping_minor', label: 'Shipping', kind: 'money', of: 'currency' },
      { key: 'free_above_minor', label: 'Free from', kind: 'money', of: 'currency' },
      { key: 'lead_p50', label: 'Days, usual', kind: 'number' },
      { key: 'lead_p90', label: 'Days, nine of ten', kind: 'number' },
      { key: 'refund', label: 'Comes back for a bad one (0 to 1)', kind: 'share' },
      { key: 'return_cost_minor', label: 'Cost of sending back', kind: 'money', of: 'currency' },
      { key: 'note', label: 'Note', kind: 'text', wide: true },
    ],
    add: (header, b) =>
      take(api.POST('/api/sellers', { params: { header }, body: b as never as Schemas['NewSeller'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/sellers/{id}', { params: path(h, id), body: b as never as Schemas['SellerChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/sellers/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/sellers/{id}/restore', { params: at(h, id, v) })),
  },
  offer: {
    name: 'Offer',
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
    ],
    add: (header, b) => take(api.POST('/api/offers', { params: { header }, body: b as never as Schemas['NewOffer'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/offers/{id}', { params: path(h, id), body: b as never as Schemas['OfferChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/offers/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/offers/{id}/restore', { params: at(h, id, v) })),
  },
  exchange: {
    name: 'Rate of exchange',
    fields: [
      { key: 'from', label: 'One unit of', kind: 'text' },
      { key: 'to', label: 'in', kind: 'text' },
      { key: 'rate', label: 'is', kind: 'number' },
      { key: 'rated_on', label: 'on the day', kind: 'date' },
    ],
    add: (header, b) =>
      take(api.POST('/api/exchanges', { params: { header }, body: b as never as Schemas['NewExchange'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/exchanges/{id}', { params: path(h, id), body: b as never as Schemas['ExchangeChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/exchanges/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/exchanges/{id}/restore', { params: at(h, id, v) })),
  },
  price: {
    name: 'Price',
    fields: [
      { key: 'what', label: 'Of', kind: 'choice', choices: ['refurbished', 'salvage', ...jobs] },
      { key: 'for_model_id', label: 'Model', kind: 'model' },
      { key: 'currency', label: 'Currency', kind: 'text' },
      { key: 'price_minor', label: 'Price', kind: 'money', of: 'currency' },
      { key: 'priced_on', label: 'On the day', kind: 'date' },
    ],
    add: (header, b) => take(api.POST('/api/prices', { params: { header }, body: b as never as Schemas['NewPrice'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/prices/{id}', { params: path(h, id), body: b as never as Schemas['PriceChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/prices/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/prices/{id}/restore', { params: at(h, id, v) })),
  },
  delivery: {
    name: 'Delivery',
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
    add: (header, b) =>
      take(api.POST('/api/deliveries', { params: { header }, body: b as never as Schemas['NewDelivery'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/deliveries/{id}', { params: path(h, id), body: b as never as Schemas['DeliveryChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/deliveries/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/deliveries/{id}/restore', { params: at(h, id, v) })),
  },
  shelf: {
    name: 'Pieces in stock',
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
    add: (header, b) => take(api.POST('/api/shelves', { params: { header }, body: b as never as Schemas['NewShelf'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/shelves/{id}', { params: path(h, id), body: b as never as Schemas['ShelfChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/shelves/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/shelves/{id}/restore', { params: at(h, id, v) })),
  },
  work: {
    name: 'Job',
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
      { key: 'overrode', label: 'Taken against the gate by', kind: 'text' },
      { key: 'why', label: 'Why refused, or taken all the same', kind: 'text', wide: true },
    ],
    add: (header, b) =>
      take(api.POST('/api/work-orders', { params: { header }, body: b as never as Schemas['NewWork'] })),
    change: (h, id, b) =>
      take(api.PUT('/api/work-orders/{id}', { params: path(h, id), body: b as never as Schemas['WorkChange'] })),
    remove: (h, id, v) => take(api.DELETE('/api/work-orders/{id}', { params: at(h, id, v) })) as Promise<never>,
    restore: (h, id, v) => take(api.POST('/api/work-orders/{id}/restore', { params: at(h, id, v) })),
  },
} satisfies Record<string, RowKind>

export type KindName = keyof typeof kinds
