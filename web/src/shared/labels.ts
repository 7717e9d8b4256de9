import { api } from '../api/client'

/** A code as printed on our labels: of a part, a phone, or a piece. */
const printed = /^WO(?:[PU][A-Z2-7]{26}|C[A-Z2-7]{52})$/i
export const isCode = (text: string) => printed.test(text)

/** Where a code leads; nothing where it is none of ours. */
export async function codePath(text: string): Promise<string | undefined> {
  const { data } = await api.GET('/api/codes/{code}', { params: { path: { code: text.trim() } } })
  switch (data?.kind) {
    case 'part':
      return `/models/${data.model_id}/parts/${data.part_id}`
    case 'piece':
      return `/parts?face=part&model=${data.model_id}&part=${data.part_id}&unit=${data.unit_id}`
    case 'unit':
      return `/studies/${data.study_id}/strip?phone=${data.unit_id}`
  }
}
