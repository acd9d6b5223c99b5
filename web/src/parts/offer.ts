// What a part is sold under, whatever kind it is.
import type { Item } from '../api/types'
import { valueAt } from '../state/pointer'

interface Offer {
  name: string
  price?: number | null
  arrives_days?: number | null
}

export const offerOf = (item: Item) => valueAt(item.part, `/${item.part.kind}/offer`) as Offer
