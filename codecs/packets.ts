import { bytesPerSample, decodePcm, type SampleEncoding } from '@/core/audio/pcm';
import { mp3Decoder, opusPacketDecoder, type ByteDecoder } from './decoders';

const PCM_NAME = /^pcm-([suf])(8|16|24|32|64)(be)?$/;

/** How a container's plain samples are stored, by the codec's name (“pcm-s24be”); `null` when they are not plain. */
export function pcmCodec(codec: string): SampleEncoding | null {
  const [, kind, bits, order] = PCM_NAME.exec(codec) ?? [];
  if (!kind) return null;
  return {
    kind: kind === 's' ? 'signed' : kind === 'u' ? 'unsigned' : 'float',
    bits: Number(bits) as SampleEncoding['bits'],
    bigEndian: order === 'be',
  };
}

function pcmDecoder(encoding: SampleEncoding, channels: number, sampleRate: number): ByteDecoder {
  const stride = channels * bytesPerSample(encoding);
  return {
    decode(bytes) {
      const frames = Math.floor(bytes.length / stride);
      const { channels: channelData } = decodePcm(bytes, encoding, channels, frames);
      return { channelData, samplesDecoded: frames, sampleRate, errors: [] };
    },
    flush: () => null,
    free: () => undefined,
  };
}

const OURS = ['mp3', 'opus'];

/** A decoder of ours for a container's packets; `null` when the platform has to do it. */
export async function packetDecoder(
  codec: string,
  config: { readonly description?: AllowSharedBufferSource; readonly sampleRate: number } | null,
  channels: number,
): Promise<ByteDecoder | null> {
  const pcm = pcmCodec(codec);
  if (pcm) return pcmDecoder(pcm, channels, config?.sampleRate ?? 48_000);
  if (codec === 'mp3') return mp3Decoder(false, channels);
  if (codec === 'opus') {
    const description = config?.description;
    const head = !description
      ? new Uint8Array(0)
      : ArrayBuffer.isView(description)
        ? new Uint8Array(description.buffer, description.byteOffset, description.byteLength)
        : new Uint8Array(description);
    return opusPacketDecoder(head);
  }
  return null;
}

/** Whether we decode a codec ourselves. */
packetDecoder.knows = (codec: string): boolean => OURS.includes(codec) || pcmCodec(codec) !== null;
