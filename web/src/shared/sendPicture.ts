import { ApiError, type Problem } from '../api/client'
import type { Header } from './change'

/** Sends a picture as it is; what the server made of it comes back. */
export async function sendPicture<T>(path: string, query: Record<string, string>, header: Header, file: Blob) {
  const answer = await fetch(`${path}?${new URLSearchParams(query)}`, {
    method: 'POST',
    headers: { ...header, 'Content-Type': 'application/octet-stream' },
    body: file,
  }).catch(() => {
    throw new ApiError({
      title: 'No connection',
      status: 0,
      detail: 'The picture could not be sent: no connection. Choose it again later.',
    })
  })
  if (!answer.ok) throw new ApiError((await answer.json()) as Problem)
  return (await answer.json()) as T
}
