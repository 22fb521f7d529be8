import { KERNEL } from "./kernelBytes";

/** What kernel/kernel.ts exports; arguments are places in its memory, bytes, and counts. */
export interface Kernel {
  skinLinear(rest: number, out: number, count: number, start: number, joints: number, weights: number, m: number): void;
  skinDual(rest: number, out: number, count: number, start: number, joints: number, weights: number, q: number): void;
  addShape(rows: number, vertices: number, deltas: number, count: number, weight: number): void;
  copyRows(rows: number, from: number, count: number, out: number): void;
  computeNormals(
    rows: number,
    quads: number,
    quadCount: number,
    triangles: number,
    triangleCount: number,
    placeOf: number,
    count: number,
    sums: number,
    out: number,
  ): void;
}

/** The few parts of the platform's WebAssembly that are used here. */
interface Platform {
  readonly Module: new (bytes: Uint8Array) => object;
  readonly Memory: new (size: { initial: number; maximum: number }) => { readonly buffer: ArrayBuffer };
  readonly Instance: new (module: object, imports: object) => { readonly exports: unknown };
}

const PAGE = 65_536;
let compiled: object | null = null;

/**
 * The kernel with a memory of its own of at least so many bytes.
 * @returns null where the platform has no WebAssembly with 128-bit lanes, or no room: the plain way serves.
 */
export function kernelWith(bytes: number): { readonly kernel: Kernel; readonly buffer: ArrayBuffer } | null {
  const platform = (globalThis as { WebAssembly?: Platform }).WebAssembly;
  if (!platform) return null;
  try {
    compiled ??= new platform.Module(Uint8Array.from(KERNEL.match(/../g)!, (pair) => parseInt(pair, 16)));
    const pages = Math.ceil(bytes / PAGE);
    const memory = new platform.Memory({ initial: pages, maximum: pages });
    return { kernel: new platform.Instance(compiled, { env: { memory } }).exports as Kernel, buffer: memory.buffer };
  } catch {
    return null;
  }
}
