/**
 * The n-th smallest of the values, from 0 (quickselect, Hoare 1961); their order is changed. @param values finite.
 */
export function nthSmallest(values: Float64Array, n: number): number {
  let lo = 0;
  let hi = values.length - 1;
  while (lo < hi) {
    const pivot = values[(lo + hi) >> 1]!;
    let i = lo;
    let j = hi;
    while (i <= j) {
      while (values[i]! < pivot) i++;
      while (values[j]! > pivot) j--;
      if (i > j) break;
      const swap = values[i]!;
      values[i++] = values[j]!;
      values[j--] = swap;
    }
    if (n <= j) hi = j;
    else if (n >= i) lo = i;
    else break;
  }
  return values[n]!;
}
