/**
 * Deepest nesting of lists and objects in JSON text, told without parsing it, which would overflow where it is too
 * deep.
 */
export function jsonDepth(text: string): number {
  let [depth, deepest, inText] = [0, 0, false];
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (inText) {
      if (c === 92) i++;
      else if (c === 34) inText = false;
    } else if (c === 34) inText = true;
    else if (c === 123 || c === 91) deepest = Math.max(deepest, ++depth);
    else if (c === 125 || c === 93) depth--;
  }
  return deepest;
}
