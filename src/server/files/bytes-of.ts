/** Numbers as the bytes that they lie in; nothing is copied. */
export function bytesOf(values: Float32Array | Int8Array): Buffer {
  return Buffer.from(values.buffer, values.byteOffset, values.byteLength)
}
