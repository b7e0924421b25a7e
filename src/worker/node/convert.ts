/** The foreign-format converter of this platform. Run it only in a disposable process: its memory never shrinks. */
import assimpjs from 'assimpjs';
import { type Converter, findImporter, type PictureConverter, pictureLeaf, pixelsFor } from '@/core/intake';
import { DECODERS } from './media/bitmaps';
import { encodePixels } from './media/picture';

/** Words for the converter's error codes. */
const WORDS: Record<string, string> = {
  import_error: 'its reader stopped',
  export_error: 'nothing in it can be drawn',
  no_files_found: 'no file',
};

export const convertForeign: Converter = async (main, companions) => {
  const converter = await assimpjs();
  const byLeaf = new Map([...companions].map(([name, bytes]) => [pictureLeaf(name).toLowerCase(), bytes]));
  // pictures are put in later, by name: the converter needs only what shapes and materials are written in
  const wanted = (name: string) =>
    /\.(mtl|bin|xml|material|skeleton)$/i.test(name) ? byLeaf.get(pictureLeaf(name).toLowerCase()) : undefined;
  const result = converter.ConvertFile(
    pictureLeaf(main.name).replace(/[^\w.-]+/g, '_'),
    'glb2',
    main.bytes,
    (name: string) => wanted(name) !== undefined,
    (name: string) => wanted(name) ?? new Uint8Array(),
  );
  if (!result.IsSuccess() || result.FileCount() === 0) throw new Error(WORDS[result.GetErrorCode()] ?? result.GetErrorCode());
  return new Uint8Array(result.GetFile(0).GetContent());
};

export const pictureToPng: PictureConverter = async (bytes, name) => {
  const decode = DECODERS[findImporter(bytes.subarray(0, 4096), name)?.id ?? ''];
  if (decode) return encodePixels(decode(bytes, name));
  const { default: sharp } = await import('sharp');
  return sharp(bytes, { limitInputPixels: pixelsFor(bytes.length) })
    .png()
    .toBuffer();
};
