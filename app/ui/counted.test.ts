import { counted } from "./counted";

describe("numbers with their nouns", () => {
  it.each([
    [1, "faces", "1 face"],
    [2, "faces", "2 faces"],
    [0, "errors", "0 errors"],
    [1, "vertices", "1 vertex"],
    [34904, "triangles", "34,904 triangles"],
    [1, "", "1 "],
  ])("%d %s", (n, plural, text) => expect(counted(n, plural)).toBe(text));
});
