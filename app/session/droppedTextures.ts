/** Images that came with a delivery and wait to be matched to its materials, by character. Held by the page alone. */
const waiting = new Map<string, readonly File[]>();

const isImage = ({ name }: { readonly name: string }): boolean => /\.(png|jpe?g)$/i.test(name);

/** Keeps the images among files that came with a character. @returns how many. */
export function keepTextures(character: string, files: readonly File[]): number {
  const images = files.filter(isImage);
  if (images.length) waiting.set(character, images);
  return images.length;
}

/** Images that wait for a character; they are handed out once. */
export function takeKeptTextures(character: string): readonly File[] {
  const files = waiting.get(character) ?? [];
  waiting.delete(character);
  return files;
}
