/** The package's Node entry: TypeScript would read the browser's. */
declare module 'ktx2-encoder' {
  export interface EncodeOptions {
    isKTX2File: boolean;
    generateMipmap: boolean;
    isUASTC: boolean;
    needSupercompression: boolean;
    isNormalMap: boolean;
    isPerceptual: boolean;
    isSetKTX2SRGBTransferFunc: boolean;
    /** 1 to 255. */
    qualityLevel: number;
    /** 0 to 6. */
    compressionLevel: number;
    imageDecoder: (bytes: Uint8Array) => Promise<{ width: number; height: number; data: Uint8Array }>;
  }
  export class NodeBasisEncoder {
    /** The Emscripten module, which reads KTX2 as well. */
    init(): Promise<unknown>;
    encode(bytes: Uint8Array, options: EncodeOptions): Promise<Uint8Array>;
  }
}
