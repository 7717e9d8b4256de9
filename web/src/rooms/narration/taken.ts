/** What a hand has made of a proposal. */
export interface Taken {
  state: 'yes' | 'no' | ''
  line: string
  unit: string
  /** The line is not the one that was proposed. */
  mended: boolean
  id: string
}
