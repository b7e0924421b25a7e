declare module 'gltf-validator' {
  export function validateBytes(
    data: Uint8Array,
    options?: {
      format?: 'glb' | 'gltf';
      maxIssues?: number;
      writeTimestamp?: boolean;
      externalResourceFunction?: (uri: string) => Promise<Uint8Array>;
    },
  ): Promise<{ issues: { numErrors: number; messages: { code: string; message: string; severity: number; pointer?: string }[] } }>;
}
declare module 'draco3dgltf' {
  const draco3d: { createDecoderModule(): Promise<unknown>; createEncoderModule(): Promise<unknown> };
  export default draco3d;
}
