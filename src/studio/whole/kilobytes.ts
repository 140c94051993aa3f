/** A size, as `1.2 KB` or `62 B`. */
export const kilobytes = (bytes: number): string =>
  bytes > 0 && bytes < 100 ? `${bytes} B` : `${(bytes / 1024).toLocaleString('en', { maximumFractionDigits: 1 })} KB`
