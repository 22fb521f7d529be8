declare module "number-to-words" {
  const numberToWords: { toWords(n: number): string; toWordsOrdinal(n: number): string };
  export default numberToWords;
}
