const MEDIA =
  /\.(png|jpe?g|jfif|gif|webp|avif|ico|bmp|tiff?|heic|mp4|m4v|mov|webm|ogv|mp3|m4a|ogg|oga|opus|wav|flac|aac|pdf|zip|gz|glb|psd|ai|woff2?|ttf|otf|eot)$/i

/** Whether a file is a picture, a sound, a font or the like, by its name: shown as it is, and never edited. */
export const isMedia = (path: string): boolean => MEDIA.test(path)
