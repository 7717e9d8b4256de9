// Asks a running demo for its rooms over HTTP: the first answer, and those from memory (p50 and p95 of 60), as a table.
const [, , base] = process.argv
const ask = (path, init) => fetch(base + path, init)
const signed = await ask('/api/session', {
  method: 'POST',
  headers: { origin: base, 'content-type': 'application/json' },
  body: JSON.stringify({ name: 'admin', password: 'demo-admin-office' }),
})
if (!signed.ok) throw new Error(`sign in: ${signed.status}`)
const cookie = signed.headers.getSetCookie().map((c) => c.split(';')[0]).join('; ')
const read = async (path) => {
  const begun = performance.now()
  const answer = await ask(path, { headers: { cookie } })
  await answer.arrayBuffer()
  if (!answer.ok) throw new Error(`${path}: ${answer.status}`)
  return performance.now() - begun
}
const studies = await (await ask('/api/studies', { headers: { cookie } })).json()
const [study, model] = [studies[1].study.id, studies[1].model.id]
console.log('| room | first, ms | p50 | p95 |\n|---|---|---|---|')
for (const [name, path] of [
  ['studies', '/api/studies'],
  ...['intake', 'strip', 'swap', 'closeup', 'handover'].map((room) => [room, `/api/studies/${study}/${room}`]),
  ...['ways', 'score'].map((room) => [room, `/api/models/${model}/${room}`]),
]) {
  const first = await read(path)
  const took = []
  for (let n = 0; n < 60; n++) took.push(await read(path))
  took.sort((a, b) => a - b)
  console.log(`| ${name} | ${[first, took[30], took[57]].map((x) => x.toFixed(1)).join(' | ')} |`)
}
