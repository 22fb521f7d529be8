declare module "gltf-validator" {
  interface Report {
    validatorVersion: string;
    issues: {
      numErrors: number;
      numWarnings: number;
      numInfos: number;
      numHints: number;
      messages: { code: string; message: string; severity: number; pointer?: string }[];
    };
  }
  const validator: { validateBytes(bytes: Uint8Array, options?: object): Promise<Report> };
  export default validator;
}
