/** What a browser reads a blob with (File API §6.2), as much of it as backups need. */
class BlobReader {
  onload: ((event: { target: BlobReader }) => void) | null = null
  result: string | ArrayBuffer = ''
  readAsText = (blob: Blob) => blob.text().then((text) => this.give(text))
  readAsArrayBuffer = (blob: Blob) => blob.arrayBuffer().then((buffer) => this.give(buffer))
  private give(result: string | ArrayBuffer) {
    this.result = result
    this.onload?.({ target: this })
  }
}

// What reads and writes backups is made for browsers.
Object.assign(globalThis, { self: globalThis, FileReader: BlobReader })
