const CHUNK = 0x8000

/** Bytes as base64 (RFC 4648 §4). */
export function base64Of(bytes: Uint8Array): string {
  let binary = ''
  for (let at = 0; at < bytes.length; at += CHUNK) binary += String.fromCharCode(...bytes.subarray(at, at + CHUNK))
  return btoa(binary)
}
