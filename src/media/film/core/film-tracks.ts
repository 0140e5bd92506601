import type { Archive, Entry } from '@/core/archive';
import { FormatError } from '@/core/bytes';
import { asText } from '@/core/script';
import { isReaderName, readsItAlone } from '@/media/readers';

const TRACK_SORTS = ['picture', 'sound', 'marks'] as const;
type TrackSort = (typeof TRACK_SORTS)[number];

/** One stream of a film that is an archive. */
export interface FilmTrack {
  readonly entry: Entry;
  readonly sort: TrackSort;
  /** The language that it is in, as the archive writes it; empty for all. */
  readonly language: string;
  /** What ffmpeg calls what reads it, where its script says that; else its first bytes tell. */
  readonly demuxer: string | undefined;
}

type Sorted = Pick<FilmTrack, 'sort'>;
export const isPictures = ({ sort }: Sorted): boolean => sort === 'picture';
export const isSound = ({ sort }: Sorted): boolean => sort === 'sound';
export const isMarks = ({ sort }: Sorted): boolean => sort === 'marks';

/** The streams of an archive that its script says is a film, in their order; empty where it is none. Throws FormatError for a stream of a sort that there is not. */
export function filmTracks(archive: Pick<Archive, 'entries' | 'context'>): FilmTrack[] {
  const tracks: FilmTrack[] = [];
  for (const entry of archive.entries) {
    const film = (entry as Partial<Entry>).group?.film;
    if (!film || entry.problem) continue;
    const word = asText(film.track.run(archive.context, entry.row));
    const sort = TRACK_SORTS.find((one) => one === word);
    if (!sort)
      throw new FormatError('script-wrong', {
        ...{ fieldPath: `${entry.path}, film.track`, expected: TRACK_SORTS.join(', '), actual: word },
      });
    const demuxer = film.demuxer && asText(film.demuxer.run(archive.context, entry.row));
    if (demuxer && !(isReaderName(demuxer) && readsItAlone(demuxer)))
      throw new FormatError('script-wrong', {
        ...{ fieldPath: `${entry.path}, film.demuxer`, actual: demuxer },
        expected: 'a form that ffmpeg reads and that names no other files',
      });
    const language = film.language ? asText(film.language.run(archive.context, entry.row)) : '';
    tracks.push({
      ...{ entry, sort, language: language.replaceAll('\0', '').trim() },
      // Nothing said for one of them leaves it to its bytes.
      demuxer: demuxer === '' ? undefined : demuxer,
    });
  }
  return tracks;
}
