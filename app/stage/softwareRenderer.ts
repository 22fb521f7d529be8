let known: boolean | null = null;

/** Words by which drivers that draw on the processor name themselves. Common practice, no source. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|software|basic render/i;

/**
 * Whether this browser draws on the processor: what a graphics card does for nothing, such as filtering textures at a
 * glancing angle, then halves the frames a second. Also true where nothing can be drawn at all.
 */
export function drawsInSoftware(): boolean {
  if (known !== null) return known;
  if (typeof OffscreenCanvas === "undefined") return (known = true);
  const gl = new OffscreenCanvas(1, 1).getContext("webgl2");
  const info = gl?.getExtension("WEBGL_debug_renderer_info");
  const name = gl && info ? String(gl.getParameter(info.UNMASKED_RENDERER_WEBGL)) : "";
  gl?.getExtension("WEBGL_lose_context")?.loseContext();
  return (known = !gl || SOFTWARE.test(name));
}
