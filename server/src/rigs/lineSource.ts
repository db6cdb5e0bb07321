import { connect } from 'node:net'
import type { Readable } from 'node:stream'
import { inputRefused } from '@yuzumix/core'
import { SerialPort } from 'serialport'
import type { Clock } from './clock'

/** Where lines of text come from: a host and its port, or a serial port and its speed. */
export type LineAddress = { host: string; port: number } | { path: string; baud: number }

/** What is heard of a source. */
export interface LineHearer {
  line(text: string): void
  /** it is there, or why it is not: it is tried again until it is closed */
  state(open: boolean, why: string): void
}

/** ms until a source that went away is tried again. */
const AGAIN_AFTER = 1000
/** Characters of a line, at the most: what has no end of a line is no text. */
const LONGEST = 8192
/** What serial ports are called: any other file of the machine is none. */
const SERIAL = /^(\/dev\/(?:(?:tty|rfcomm|cu\.)[\w.-]*|(?:serial\/by-(?:id|path)|pts)\/[\w.:-]+)|COM\d{1,3})$/i
const HOST = /^(?:tcp:\/\/)?([\w.-]+|\[[\da-f:]+\]):(\d{1,5})$/i

/**
 * Reads an address as it was typed: "192.168.4.1:5190", "tcp://logger.local:5190", "/dev/ttyUSB0" or "COM3".
 *
 * @throws Refusal 'input-refused'
 */
export function lineAddress(text: string, baud: number): LineAddress {
  const plain = text.trim()
  if (SERIAL.test(plain) && !plain.includes('..')) return { path: plain, baud }
  const [, host, port] = HOST.exec(plain) ?? []
  if (host && Number(port) >= 1 && Number(port) <= 65_535)
    return { host: host.replace(/^\[|\]$/g, ''), port: Number(port) }
  throw inputRefused([
    { field: 'source', message: 'must be a host and a port, as logger.local:5190, or a serial port, as /dev/ttyUSB0' },
  ])
}

/** Opens a source of lines and opens it again whenever it goes away. @returns what closes it */
export function lineSource(address: LineAddress, clock: Clock, hear: LineHearer): () => void {
  let isClosed = false
  let current: (Readable & { destroy(): unknown }) | null = null

  function open(): void {
    if (isClosed) return
    const own = 'path' in address ? new SerialPort({ path: address.path, baudRate: address.baud }) : connect(address)
    current = own
    let rest = ''
    let isOver = false
    own.setEncoding('utf8')
    own.on('path' in address ? 'open' : 'connect', () => hear.state(true, ''))
    own.on('data', (chunk: string) => {
      const lines = (rest + chunk).split(/\r\n|\n|\r/)
      rest = lines.pop()!
      if (rest.length > LONGEST) rest = ''
      for (const line of lines) if (line.length <= LONGEST) hear.line(line)
    })
    const over = (why: string): void => {
      if (isOver || isClosed) return
      isOver = true
      hear.state(false, why)
      void clock.wait(AGAIN_AFTER).then(open)
    }
    own.on('error', (error: Error) => over(reasonOf(error)))
    own.on('close', () => over('the other side has closed the link'))
  }
  open()
  return () => {
    isClosed = true
    current?.destroy()
  }
}

/** Why a link is not there, in words. */
function reasonOf(error: Error & { code?: string }): string {
  const known: Record<string, string> = {
    ECONNREFUSED: 'nobody listens there',
    ENOTFOUND: 'there is no such host',
    ETIMEDOUT: 'the host does not answer',
    EHOSTUNREACH: 'the host cannot be reached',
    ECONNRESET: 'the other side has dropped the link',
  }
  const told = known[error.code ?? '']
  if (told) return told
  if (/no such file|file not found|cannot find/i.test(error.message)) return 'there is no such serial port'
  if (/permission|access/i.test(error.message)) return 'this user may not open the serial port'
  return 'the link does not open'
}
