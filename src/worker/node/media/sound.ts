/** Sounds and test films in Node: containers by mediabunny, samples by a Web Audio decoder. */
import {
  AdtsOutputFormat,
  ALL_FORMATS,
  BufferSource,
  BufferTarget,
  EncodedAudioPacketSource,
  EncodedPacketSink,
  FlacOutputFormat,
  Input,
  type InputAudioTrack,
  Mp3OutputFormat,
  Mp4OutputFormat,
  OggOutputFormat,
  Output,
  type OutputFormat,
  WebMOutputFormat,
} from 'mediabunny';
import {
  decodeWav,
  type FootageFacts,
  footageFindings,
  IntakeError,
  loudness,
  peakOf,
  pictureLeaf,
  type Samples,
  type SoundFacts,
  silenceAtEnds,
  soundFindings,
  trimWav,
  waveform,
} from '@/core/intake';
import type { StepDraft } from '@/core/piece';

const unreadable = (name: string, why: string) =>
  new IntakeError('sound/unreadable', `${pictureLeaf(name)} cannot be read: ${why.slice(0, 160)}. Save it again.`);

/** Longest sound that is decoded whole. */
const LONGEST_S = 1800;

const tooLong = (name: string, seconds: number) =>
  new IntakeError(
    'sound/too-long',
    `${pictureLeaf(name)} runs ${Math.round(seconds / 60)} minutes; up to ${LONGEST_S / 60} are read. Cut it.`,
  );

/** What a FLAC says of its own length, 0 for any other file: looking for so many samples would not end (RFC 9639, section 8.2). */
function flacSeconds(bytes: Uint8Array): number {
  if (bytes.length < 42 || String.fromCharCode(...bytes.subarray(0, 4)) !== 'fLaC') return 0;
  const rate = (bytes[18] << 12) | (bytes[19] << 4) | (bytes[20] >> 4);
  const samples = (bytes[21] & 15) * 2 ** 32 + ((bytes[22] << 24) >>> 0) + (bytes[23] << 16) + (bytes[24] << 8) + bytes[25];
  return rate > 0 ? samples / rate : 0;
}

const inputOf = (bytes: Uint8Array) => new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes) });

/** The packets of a sound from one time to another in a new file: nothing is coded again. */
async function copyPackets(track: InputAudioTrack, format: OutputFormat, fromS: number, toS: number): Promise<Uint8Array> {
  const target = new BufferTarget();
  const output = new Output({ format, target });
  const { codec } = track;
  if (!codec) throw new Error('its coding is not known');
  const source = new EncodedAudioPacketSource(codec);
  output.addAudioTrack(source);
  await output.start();
  const config = (await track.getDecoderConfig()) ?? undefined;
  let first: number | null = null;
  for await (const packet of new EncodedPacketSink(track).packets()) {
    if (packet.timestamp + packet.duration <= fromS + 1e-9 || packet.timestamp >= toS - 1e-9) continue;
    first ??= packet.timestamp;
    await source.add(packet.clone({ timestamp: packet.timestamp - first }), { decoderConfig: config });
  }
  await output.finalize();
  return new Uint8Array(target.buffer as ArrayBuffer);
}

async function decode(name: string, bytes: Uint8Array, track: InputAudioTrack, mp4: boolean): Promise<Samples | null> {
  const { OfflineAudioContext } = await import('node-web-audio-api').catch(() => ({ OfflineAudioContext: null }));
  if (!OfflineAudioContext) return null;
  // the decoder reads a stream of frames; where a container keeps its index at its end it finds nothing
  const plain = mp4 && track.codec === 'aac' ? await copyPackets(track, new AdtsOutputFormat(), 0, Number.POSITIVE_INFINITY) : bytes;
  const context = new OfflineAudioContext(Math.min(32, track.numberOfChannels), 1, track.sampleRate);
  const buffer = await context.decodeAudioData(plain.slice().buffer).catch((e: Error) => {
    if (/unsupported|not supported/i.test(e.message)) return null;
    throw unreadable(name, e.message.replace(/^.*'decodeAudioData': /, ''));
  });
  if (!buffer) return null;
  return {
    sampleRate: buffer.sampleRate,
    channels: Array.from({ length: buffer.numberOfChannels }, (_, c) => buffer.getChannelData(c)),
  };
}

const FORMATS: Record<string, SoundFacts['format']> = {
  WAVE: 'wav',
  MP3: 'mp3',
  Ogg: 'ogg',
  MP4: 'm4a',
  QuickTime: 'm4a',
  FLAC: 'flac',
  WebM: 'webm',
  Matroska: 'webm',
};
const round = (x: number, digits: number) => Math.round(x * 10 ** digits) / 10 ** digits;

function soundFacts(
  given: Pick<SoundFacts, 'format' | 'codec' | 'bytes' | 'seconds' | 'channels' | 'sampleRate'>,
  samples: Samples | null,
  declaredS: number | null,
): SoundFacts {
  const silence = samples ? silenceAtEnds(samples) : { startS: 0, endS: 0 };
  const peak = samples ? peakOf(samples) : null;
  const lufs = samples ? loudness(samples) : null;
  return {
    kind: 'sound',
    readable: true,
    ...given,
    seconds: round(given.seconds, 4),
    loudnessLufs: lufs === null ? null : round(lufs, 1),
    peakDb: peak === null || peak === 0 ? null : round(20 * Math.log10(peak), 1),
    waveform: samples ? waveform(samples) : [],
    silence: { startS: round(silence.startS, 4), endS: round(silence.endS, 4) },
    findings:
      samples && peak !== null
        ? soundFindings({ seconds: given.seconds, declaredS, silence, peak, loudnessLufs: lufs })
        : [
            {
              code: 'sound/not-decoded',
              level: 'note',
              message: `How loud it is cannot be told: ${given.codec} is not decoded here. Browsers may play it.`,
            },
          ],
  };
}

/** Sound or film, which its tracks decide. @throws {IntakeError} neither, or broken. */
export async function readMoving(name: string, bytes: Uint8Array): Promise<SoundFacts | FootageFacts> {
  if (String.fromCharCode(...bytes.subarray(8, 12)) === 'WAVE') {
    const { layout, ...samples } = decodeWav(bytes);
    const rate = layout.sampleRate * layout.channels * (layout.bits / 8);
    // all ones: a stream that was never closed says nothing of its length
    const declaredS = layout.declaredBytes >= 0xfffffff0 ? null : layout.declaredBytes / rate;
    const codec = `pcm ${layout.bits} bit${layout.float ? ' float' : ''}`;
    const given = { format: 'wav' as const, codec, bytes: bytes.byteLength, seconds: layout.dataBytes / rate };
    return soundFacts({ ...given, channels: layout.channels, sampleRate: layout.sampleRate }, samples, declaredS);
  }
  const input = inputOf(bytes);
  try {
    if (flacSeconds(bytes) > LONGEST_S) throw tooLong(name, flacSeconds(bytes));
    const format = (await input.getFormat()).name;
    const [video, audio] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
    const seconds = await input.computeDuration();
    if (video) return await footageFacts(bytes.byteLength, video, format, seconds, !!audio);
    if (!audio?.codec) throw unreadable(name, 'there is no sound in it that is known');
    if (seconds > LONGEST_S) throw tooLong(name, seconds);
    const samples = await decode(name, bytes, audio, format === 'MP4' || format === 'QuickTime');
    return soundFacts(
      {
        format: FORMATS[format] ?? 'webm',
        codec: audio.codec,
        bytes: bytes.byteLength,
        // coders pad the last frame; what is decoded is what is heard
        seconds: samples ? samples.channels[0].length / samples.sampleRate : seconds,
        channels: audio.numberOfChannels,
        sampleRate: audio.sampleRate,
      },
      samples,
      null,
    );
  } catch (error) {
    if (error instanceof IntakeError) throw error;
    throw unreadable(name, (error as Error).message || 'it is no container that is known');
  }
}

async function footageFacts(
  bytes: number,
  video: NonNullable<Awaited<ReturnType<Input['getPrimaryVideoTrack']>>>,
  format: string,
  seconds: number,
  sound: boolean,
): Promise<FootageFacts> {
  const { averagePacketRate } = await video.computePacketStats(500);
  const facts = {
    width: video.displayWidth,
    height: video.displayHeight,
    fps: round(averagePacketRate, 2),
    seconds: round(seconds, 3),
  };
  return {
    kind: 'footage',
    readable: true,
    bytes,
    format: format === 'WebM' || format === 'Matroska' ? 'webm' : 'mp4',
    codec: video.codec ?? 'unknown',
    sound,
    ...facts,
    findings: footageFindings(facts),
  };
}

const OUTPUTS: Record<SoundFacts['format'], (() => OutputFormat) | null> = {
  wav: null,
  mp3: () => new Mp3OutputFormat(),
  ogg: () => new OggOutputFormat(),
  m4a: () => new Mp4OutputFormat({ fastStart: 'in-memory' }),
  flac: () => new FlacOutputFormat(),
  webm: () => new WebMOutputFormat(),
};

/** A sound after its steps. @throws {IntakeError} as readMoving, or nothing left. */
export async function prepareSound(
  name: string,
  bytes: Uint8Array,
  steps: readonly StepDraft[],
): Promise<{ bytes: Uint8Array; facts: SoundFacts }> {
  let out = bytes;
  let facts = await readMoving(name, bytes);
  for (const s of steps) {
    if (s.step !== 'trim' || facts.kind !== 'sound') continue;
    const { fromS, toS } = s.settings;
    if (!(toS > fromS) || fromS >= facts.seconds)
      throw new IntakeError('sound/trim', `Nothing is left between ${fromS} s and ${toS} s of ${facts.seconds} s.`);
    const make = OUTPUTS[facts.format];
    const track = make ? await inputOf(out).getPrimaryAudioTrack() : null;
    out = make && track ? await copyPackets(track, make(), fromS, toS) : trimWav(out, fromS, toS);
    facts = await readMoving(name, out);
  }
  if (facts.kind !== 'sound') throw unreadable(name, 'it is a film');
  return { bytes: out, facts: { ...facts, bytes: bytes.byteLength } };
}
