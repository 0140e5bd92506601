import type { GivenFilm } from './MakeFilmDialog';
import { api } from '@/ui/api';

/** What a new film is made of: one file, or single pictures in their order with a sound. */
export type Giving =
  | { readonly film: File }
  | { readonly pictures: readonly File[]; readonly sound: File | undefined; readonly rate: number };

const isPicture = ({ type }: File): boolean => /^image\/(png|jpeg)$/.test(type);
const isSound = ({ type }: File): boolean => type.startsWith('audio/');
/** Numbers in names count as numbers: picture 10 comes behind picture 9. */
const byName = new Intl.Collator('en', { numeric: true });

/** What files are as a whole; undefined where there is nothing of which a film comes. */
export function givingOf(files: readonly File[], rate: number): Giving | undefined {
  const whole = files.find(({ type }) => type.startsWith('video/'));
  if (whole) return { film: whole };
  const pictures = files.filter(isPicture).sort((a, b) => byName.compare(a.name, b.name));
  if (pictures.length > 0) return { pictures, sound: files.find(isSound), rate };
  const [film] = files;
  return film && { film };
}

/** Brings it to the server, which tells what it is. */
export async function give(base: string, giving: Giving): Promise<GivenFilm> {
  const put = (query: Record<string, string>, body: Blob): Promise<GivenFilm> =>
    api.put(`${base}/given?${new URLSearchParams(query)}`, body);
  if ('film' in giving) return put({ name: giving.film.name }, giving.film);
  const { pictures, sound, rate } = giving;
  const heard = sound && (await put({ name: sound.name }, sound));
  return put(
    {
      ...{ name: pictures[0]!.name, pictures: String(pictures.length), rate: String(rate) },
      ...(heard && { sound: heard.blob }),
    },
    new Blob([...pictures]),
  );
}
