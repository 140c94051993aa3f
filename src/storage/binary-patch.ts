import { zlibSync } from 'fflate'

const DIGITS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz!#$%&()*+-;<=>?@^_`{|}~'
const PER_LINE = 52

// Four bytes as five digits, the last bytes filled up with zeros, as git's own base 85.
function line(bytes: Uint8Array): string {
  const length = bytes.length <= 26 ? String.fromCharCode(64 + bytes.length) : String.fromCharCode(96 + bytes.length - 26)
  let out = length
  for (let i = 0; i < bytes.length; i += 4) {
    let n = (((bytes[i] ?? 0) << 24) | ((bytes[i + 1] ?? 0) << 16) | ((bytes[i + 2] ?? 0) << 8) | (bytes[i + 3] ?? 0)) >>> 0
    let digits = ''
    for (let k = 0; k < 5; k++) {
      digits = DIGITS[n % 85] + digits
      n = Math.floor(n / 85)
    }
    out += digits
  }
  return `${out}\n`
}

function literal(bytes: Uint8Array): string {
  const packed = zlibSync(bytes)
  let out = `literal ${bytes.length}\n`
  for (let i = 0; i < packed.length; i += PER_LINE) out += line(packed.subarray(i, i + PER_LINE))
  return `${out}\n`
}

async function blobName(bytes: Uint8Array): Promise<string> {
  const head = new TextEncoder().encode(`blob ${bytes.length}\0`)
  const whole = new Uint8Array(head.length + bytes.length)
  whole.set(head)
  whole.set(bytes, head.length)
  return [...new Uint8Array(await crypto.subtle.digest('SHA-1', whole))].map((b) => b.toString(16).padStart(2, '0')).join('')
}

/** A file that was not there, as a part of a patch that `git apply` takes; its path is given as git quotes it. */
export async function newFilePatch(gitPath: (prefix: string) => string, bytes: Uint8Array): Promise<string> {
  const name = await blobName(bytes)
  return `diff --git ${gitPath('a')} ${gitPath('b')}\nnew file mode 100644\nindex ${'0'.repeat(40)}..${name}\nGIT binary patch\n${literal(bytes)}${literal(new Uint8Array(0))}`
}
