import type { EntryItem } from '@/ui/contents/use-entries';

/** A sound that is ready: its samples, or where it can be streamed from, since the samples of a long one would fill the memory. */
export type Ready = { readonly buffer: AudioBuffer } | { readonly address: string };

/** So many sounds are held ready; those asked for longest ago are let go. */
const MOST_HELD = 12;
/** Longer ones are streamed; they begin a little later. */
const MOST_SECONDS = 40;
const MOST_BYTES = 1 << 20;

/** Sounds that are fetched and decoded before they are asked for, so that they begin at once. */
export class SoundStore {
  private readonly held = new Map<string, Promise<Ready>>();

  constructor(
    private readonly gameId: number,
    private readonly context: BaseAudioContext,
  ) {}

  /** A sound, made ready now where it is not yet. */
  ready(item: EntryItem): Promise<Ready> {
    const { archiveId, index, storedSize } = item;
    const from = `/api/games/${this.gameId}/entries/${archiveId}/${index}/raw?v=${storedSize}`;
    const known = this.held.get(from);
    this.held.delete(from);
    const made = known ?? this.make(from, item);
    this.held.set(from, made);
    if (!known) made.catch(() => this.held.delete(from));
    for (const old of this.held.keys()) {
      if (this.held.size <= MOST_HELD) break;
      this.held.delete(old);
    }
    return made;
  }

  private async make(from: string, { size, measured }: EntryItem): Promise<Ready> {
    const seconds = measured?.length ?? undefined;
    if (seconds === undefined ? size > MOST_BYTES : seconds > MOST_SECONDS) return { address: from };
    const answer = await fetch(from);
    if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
    return { buffer: await this.context.decodeAudioData(await answer.arrayBuffer()) };
  }
}
