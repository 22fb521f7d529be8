/** A dropped file as jobs take it. */
export const givenFile = async (file: File): Promise<{ readonly name: string; readonly bytes: Uint8Array }> => ({
  name: file.name,
  bytes: new Uint8Array(await file.arrayBuffer()),
});
