import { readFileSync } from 'node:fs'
import { refused } from '@yuzumix/core'
import type { Access } from './access'

/** @throws Refusal 'folder-closed' where it is to listen beyond this machine and nobody said who may come in */
export function refuseOpen(access: Access, host: string): void {
  const missing = [
    ...(access.hasPassphrase() ? [] : ['a passphrase: npm run passphrase']),
    ...(access.names().length ? [] : ['the names it answers to: npm run names -- workshop.local 192.168.1.20']),
  ]
  if (missing.length)
    throw refused(
      'only-here',
      `It does not listen on ${host} yet. Beyond this machine it wants ${missing.join('; and ')}. Both can be set at Sharing as well, while it runs on this machine alone.`,
      'HOST',
    )
}

/**
 * Certificate and key by their files; null for none.
 *
 * @throws Refusal 'only-here' where one is missing or cannot be read
 */
export function certificate(cert: string | undefined, key: string | undefined): { cert: Buffer; key: Buffer } | null {
  if (!cert && !key) return null
  if (!cert || !key)
    throw refused(
      'only-here',
      'TLS wants both files: YUZUMIX_CERT and YUZUMIX_KEY.',
      cert ? 'YUZUMIX_KEY' : 'YUZUMIX_CERT',
    )
  const [read, secret] = [cert, key].map((path) => {
    try {
      return readFileSync(path)
    } catch {
      throw refused(
        'only-here',
        `${path} cannot be read: name the file of the certificate, and that of its key.`,
        'tls',
      )
    }
  })
  return { cert: read!, key: secret! }
}
