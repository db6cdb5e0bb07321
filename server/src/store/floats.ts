/** Bytes of a column as numbers, on a buffer of their own. */
export function toFloats(data: Buffer): Float32Array {
  return new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength))
}
