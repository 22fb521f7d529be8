/** What the figure generator hands over: plain lists, metres, +Y up, facing +Z. */
export type Point = [number, number, number];
export interface FigurePart {
  name: string;
  P: Point[];
  Q: number[][];
  c: Point[];
  rough: number;
  w: [number, number][][];
}
export interface Figure {
  P: Point[];
  Q: number[][];
  colour: Point[];
  w1: [number, number][][];
  J: { name: string; par: number; p: Point }[];
  parts: FigurePart[];
  shirt: { P: Point[]; Q: number[][]; w: [number, number][][] };
  trousers: { P: Point[]; Q: number[][]; w: [number, number][][] };
  tag: { reg: string }[];
  covered: (tag: { reg: string }) => boolean;
}
export interface FaceShape {
  id: string;
  label: string;
  parts: Record<string, Point[]>;
}
