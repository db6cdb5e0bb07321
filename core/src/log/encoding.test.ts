import { detectEncoding } from './encoding'

describe('encodings', () => {
  const utf16 = (text: string, big: boolean): Uint8Array =>
    Uint8Array.from(
      [...text].flatMap((c) =>
        big ? [c.charCodeAt(0) >> 8, c.charCodeAt(0) & 255] : [c.charCodeAt(0) & 255, c.charCodeAt(0) >> 8],
      ),
    )
  it('are told apart', () => {
    const text = 'time,rpm\n1,2\n'.repeat(20)
    expect(detectEncoding(new TextEncoder().encode(text))).toBe('utf-8')
    expect(detectEncoding(utf16(text, false))).toBe('utf-16le')
    expect(detectEncoding(utf16(`\uFEFF${text}`, true))).toBe('utf-16be')
    expect(detectEncoding(Uint8Array.from([...'Zündung °'].map((c) => c.charCodeAt(0))))).toBe('windows-1252')
    expect(detectEncoding(new TextEncoder().encode('λ°µ').subarray(0, 5))).toBe('utf-8')
  })
  it('no text is refused', () => {
    expect(() => detectEncoding(new Uint8Array(0))).toThrow(/empty/)
    expect(() => detectEncoding(Uint8Array.from({ length: 500 }, (_, i) => (i * 37) % 256))).toThrow(/not a text file/)
  })
})
