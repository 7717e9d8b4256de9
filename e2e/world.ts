import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { connect } from 'node:net'
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'

const program = '../bin/waryowl'
const folder = () => mkdtempSync(join(existsSync('/dev/shm') ? '/dev/shm' : tmpdir(), 'waryowl-e2e-'))

/** Starts a program and waits for the address that it prints: the system chooses a free port. */
async function start(
  args: string[],
  env: NodeJS.ProcessEnv,
): Promise<{ child: ChildProcess; base: string; said: () => string }> {
  const child = spawn(program, args, {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'pipe', 'pipe'],
  })
  let said = ''
  const base = await new Promise<string>((done, failed) => {
    const late = setTimeout(() => failed(new Error(`${args.join(' ')} says no address: ${said}`)), 60_000)
    const hear = (text: Buffer) => {
      said += text
      const found = /https?:\/\/[\d.]+:\d+|WARYOWL_INSTRUMENTS="[^"]+"/.exec(said)
      if (!found) return
      clearTimeout(late)
      done(found[0])
    }
    child.stdout!.on('data', hear)
    child.stderr!.on('data', hear)
    child.once('exit', (code) => failed(new Error(`${args.join(' ')} ended with ${code}: ${said}`)))
  })
  return { child, base, said: () => said }
}

const end = (child: ChildProcess, signal: NodeJS.Signals) =>
  new Promise<void>((done) => {
    if (child.exitCode !== null || child.signalCode) return done()
    child.once('exit', () => done())
    child.kill(signal)
  })

/** Loads the demo world once into a folder that every test gets a copy of. */
export async function template(): Promise<string> {
  const at = folder()
  const { child } = await start(['demo'], { WARYOWL_VAR: at, PORT: '0' })
  await end(child, 'SIGTERM')
  return at
}

/** A demo world of one test's own: its server, its database, its calibration service. */
export class World {
  base = ''
  calibration = ''
  /** host:port of a simulated instrument, by its name. */
  instruments: Record<string, string> = {}
  private readonly at = folder()
  private server?: ChildProcess
  private service?: ChildProcess
  private bench?: ChildProcess
  private serves = 'demo'
  private said = () => ''

  /** A copy of the demo world, or, from nothing, an empty database with one analyst and one buyer. */
  async open(from?: string) {
    if (from) execFileSync('cp', ['-a', '--sparse=always', `${from}/.`, this.at])
    else {
      this.serves = 'serve'
      for (const role of ['analyst', 'buyer'])
        execFileSync(program, ['user', role, '--role', role], {
          env: {
            ...process.env,
            WARYOWL_VAR: this.at,
            WARYOWL_PASSWORD: `demo-${role}`,
          },
        })
    }
    const service = await start(['calibration', '--listen', '127.0.0.1:0'], {})
    this.service = service.child
    this.calibration = service.base
    await this.up()
  }
  /** A server on an empty folder, without any account, as on a new machine; the link that it prints for the first one. */
  async first(): Promise<string> {
    this.serves = 'serve'
    await this.up()
    for (let i = 0; i < 100; i++) {
      const found = /https?:\/\/[\d.:]+\/link\/[0-9a-f]+/.exec(this.said())
      if (found) return found[0]
      await new Promise((done) => setTimeout(done, 100))
    }
    throw new Error(`no link for the first administrator: ${this.said()}`)
  }
  /** Instruments of one's own before the world opens, so that a test can turn, press and unplug them. */
  async measure() {
    const made = await start(['instruments', '--port', '0'], {})
    this.bench = made.child
    for (const [, name, at] of made.base.matchAll(/([\w ]+)=tcp:\/\/([\d.:]+)/g)) this.instruments[name!] = at!
  }
  /** Sends a line to a simulated instrument: SET 8.42, PRESS, UNPLUG 3. */
  async turn(name: string, line: string) {
    const [host, port] = this.instruments[name]!.split(':')
    await new Promise<void>((done, failed) => {
      const hand = connect(Number(port), host, () => hand.end(`${line}\r\n`))
      hand.once('error', failed)
      hand.resume().once('close', () => done())
      setTimeout(() => hand.destroy(), 300)
    })
  }
  /** Starts the server, on the same port when it is started again. */
  async up() {
    const port = this.base ? new URL(this.base).port : '0'
    const made = await start([this.serves], {
      WARYOWL_VAR: this.at,
      PORT: port,
      WARYOWL_CALIBRATION: this.calibration,
      WARYOWL_INSTRUMENTS: Object.entries(this.instruments)
        .map(([name, at]) => `${name}=tcp://${at}`)
        .join(','),
    })
    this.server = made.child
    this.said = made.said
    this.base = made.base
  }
  down = (signal: NodeJS.Signals) => end(this.server!, signal)
  async close() {
    for (const child of [this.service, this.bench]) if (child) await end(child, 'SIGKILL')
    if (this.server && (this.server.exitCode !== null || this.server.signalCode)) await this.up() // its database ends with it
    if (this.server) await end(this.server, 'SIGTERM')
    rmSync(this.at, { recursive: true, force: true })
  }
}
