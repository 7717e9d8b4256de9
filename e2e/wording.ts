import { readFileSync } from 'node:fs'

interface Word {
  not: RegExp
  but: string
  fine: RegExp[]
}

/** The table of words that are not said, which Go's tests read too. */
export const words: Word[] = []
for (const line of readFileSync('../internal/arch/testdata/words.txt', 'utf8').split('\n')) {
  if (!line || line.startsWith('#')) continue
  if (line.startsWith('  ')) words.at(-1)!.fine.push(new RegExp(`(?:${line.trim()})`, 'gi'))
  else {
    const [not, but] = line.split(' = ')
    words.push({ not: new RegExp(`(?<![\\w-])(?:${not})(?![\\w-])`, 'i'), but: but!, fine: [] })
  }
}

/** What of a text is not said, with some of what stands around it. */
export function unsaid(text: string): string[] {
  return words.flatMap((w) => {
    const rest = w.fine.reduce((t, f) => t.replace(f, '…'), text)
    const at = w.not.exec(rest)
    return at ? [`“${at[0]}” in “${rest.slice(Math.max(0, at.index - 30), at.index + 40)}”: ${w.but}`] : []
  })
}
