declare module 'assimpjs' {
  interface ConvertResult {
    IsSuccess(): boolean;
    GetErrorCode(): string;
    FileCount(): number;
    GetFile(i: number): { GetPath(): string; GetContent(): Uint8Array };
  }
  interface Converter {
    ConvertFile(
      name: string,
      format: string,
      content: Uint8Array,
      exists: (name: string) => boolean,
      load: (name: string) => Uint8Array,
    ): ConvertResult;
  }
  export default function assimpjs(): Promise<Converter>;
}
