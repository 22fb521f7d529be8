/** A size in bytes as words: MB with one digit, below one MB whole kB. */
export const fileSize = (bytes: number): string =>
  bytes >= 1048576 ? `${(bytes / 1048576).toFixed(1)} MB` : `${Math.ceil(bytes / 1024)} kB`;
