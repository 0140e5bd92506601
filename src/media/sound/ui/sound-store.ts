import type { EntryItem } from '@/ui/contents/use-entries';

/** So many sounds are held ready; those fetched longest ago are let go. */
const MOST_HELD = 12;

/** Sounds that are fetched before they are asked for, so that they begin at once. */
export class SoundStore {
  private readonly held = new Map<string, Promise<string>>();

  constructor(private readonly gameId: number) {}

  /** Address of a sound that is here; fetched now where it is not. */
  address({ archiveId, index, storedSize }: EntryItem): Promise<string> {
    const from = `/api/games/${this.gameId}/entries/${archiveId}/${index}/raw?v=${storedSize}`;
    const known = this.held.get(from);
    if (known) return known;
    const fetched = fetch(from).then(async (answer) => {
      if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
      return URL.createObjectURL(await answer.blob());
    });
    fetched.catch(() => this.held.delete(from));
    this.held.set(from, fetched);
    for (const [old, one] of this.held) {
      if (this.held.size <= MOST_HELD) break;
      this.held.delete(old);
      void letGo(one);
    }
    return fetched;
  }

  /** Lets go of all. */
  end(): void {
    for (const one of this.held.values()) void letGo(one);
    this.held.clear();
  }
}

const letGo = (one: Promise<string>): Promise<void> =>
  one.then(
    (address) => URL.revokeObjectURL(address),
    () => undefined,
  );
