import { z } from 'zod';
import { FormatError } from '@/core/bytes';
import type { Probed } from '../core/probed';
import { INPUT_SAFELY, outputOf } from './run-ffmpeg';

const PROBE_MS = 20_000;

const Fraction = z
  .string()
  .transform((text) => text.split('/').map(Number))
  .transform(([above = 0, below = 1]) => (below > 0 && above > 0 ? above / below : undefined));
const Seconds = z.coerce.number().nonnegative().optional().catch(undefined);

const Said = z.object({
  streams: z.array(
    z.object({
      codec_type: z.string().optional(),
      codec_name: z.string().default('unknown'),
      width: z.number().optional(),
      height: z.number().optional(),
      pix_fmt: z.string().optional(),
      r_frame_rate: Fraction.optional(),
      avg_frame_rate: Fraction.optional(),
      sample_rate: z.coerce.number().optional(),
      channels: z.number().optional(),
      duration: Seconds,
      tags: z.record(z.string(), z.string()).optional(),
      disposition: z.record(z.string(), z.number()).optional(),
    }),
  ),
  format: z
    .object({ duration: Seconds, bit_rate: Seconds })
    .default({ duration: undefined, bit_rate: undefined }),
});

const MOST_SIDE = 16_384;
const USUAL_RATE = 25;
/** Rates beyond these are units of time, not pictures. */
const MOST_RATE = 300;

/** A picture has so many bytes at the least, or what its container says of their number is not believed. */
const LEAST_PICTURE_BYTES = 40;
/** To go through more would keep whoever watches waiting. */
const MOST_COUNTED_BYTES = 512 << 20;

/**
 * What ffprobe tells of a film or sound of so many bytes at an address. Where the container does not say how long it is, or more pictures than can be in it, they are counted. Throws FormatError where it is none.
 */
export async function probe(url: string, demuxer: string, bytes: number): Promise<Probed> {
  const said = await outputOf(
    'ffprobe',
    [...INPUT_SAFELY, '-f', demuxer, '-show_streams', '-show_format', '-of', 'json', url],
    PROBE_MS,
  );
  const { streams, format } = Said.parse(JSON.parse(said.toString('utf8')));
  const picture = streams.find((one) => one.codec_type === 'video' && !one.disposition?.attached_pic);
  const sounds = streams.filter((one) => one.codec_type === 'audio');
  const { width = 0, height = 0 } = picture ?? {};
  if (picture && (width < 1 || height < 1 || width > MOST_SIDE || height > MOST_SIDE))
    throw new FormatError('bad-value', {
      ...{
        expected: `pictures of up to ${MOST_SIDE} in each direction`,
        actual: `${width} x ${height}`,
      },
    });
  const [rate = USUAL_RATE] = [picture?.avg_frame_rate, picture?.r_frame_rate].filter(
    (one) => one !== undefined && one <= MOST_RATE,
  );
  const told = format.duration ?? picture?.duration ?? sounds[0]?.duration;
  // Of pictures without a container it is guessed from the bits a second.
  const isGuessed = demuxer === 'mpegvideo' && bytes <= MOST_COUNTED_BYTES;
  const isBelieved =
    told !== undefined && !isGuessed && (!picture || told * rate * LEAST_PICTURE_BYTES <= bytes);
  return {
    seconds: picture && !isBelieved ? (await countedPictures(url, demuxer)) / rate : told,
    picture: picture && {
      ...{ codec: picture.codec_name, width, height },
      ...{ rate, pixels: picture.pix_fmt ?? '' },
    },
    sounds: sounds.map(({ codec_name, sample_rate = 0, channels = 0, tags }) => ({
      ...{ codec: codec_name, rate: sample_rate, channels, language: tags?.language ?? '' },
    })),
    subtitles: streams.filter((one) => one.codec_type === 'subtitle').length,
  };
}

/** How many coded pictures there are; all of the film is gone through, none of it decoded. */
async function countedPictures(url: string, demuxer: string): Promise<number> {
  const counted = ['-count_packets', '-select_streams', 'v:0', '-show_entries', 'stream=nb_read_packets'];
  const said = await outputOf(
    'ffprobe',
    [...INPUT_SAFELY, '-f', demuxer, ...counted, '-of', 'csv=p=0', url],
    PROBE_MS,
  );
  return Number.parseInt(said.toString(), 10) || 0;
}
