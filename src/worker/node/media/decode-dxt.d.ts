declare module 'decode-dxt' {
  /** RGBA of blocks. @param format dxt1, dxt3 or dxt5; width and height multiples of four */
  export default function decodeDxt(blocks: DataView, width: number, height: number, format: string): Uint8Array;
}
