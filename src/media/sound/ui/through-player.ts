import type { EntryItem } from '@/ui/contents/use-entries';
import { SoundStore, type Ready } from './sound-store';

export interface PlayerState {
  readonly isPlaying: boolean;
  readonly failed: string;
  /** From the press of the key until it was heard, in milliseconds. */
  readonly waited: number | undefined;
}

/** Plays one sound after the other, each from samples that lie ready where it is short. */
export class ThroughPlayer {
  private readonly context = new AudioContext({ latencyHint: 'interactive' });
  private readonly store: SoundStore;
  private readonly element = new Audio();
  private source: AudioBufferSourceNode | undefined;
  private now: { readonly key: string; readonly ready: Ready | undefined } | undefined;
  private speed = 1;
  private isOver = false;
  /** Whether it was asked to rest: what is not ready yet, or begins in just that moment, is not heard then. */
  private isHeld = false;
  /** Whether the one that it rests at is at its end. */
  private isAtEnd = false;

  constructor(
    gameId: number,
    private readonly onState: (state: Partial<PlayerState>) => void,
    /** Called when a sound came to its end by itself. */
    private readonly onEnd: () => void,
  ) {
    this.store = new SoundStore(gameId, this.context);
    this.element.addEventListener('ended', () => this.ended());
    this.element.addEventListener('play', () => this.onState({ isPlaying: true }));
    this.element.addEventListener('pause', () => this.onState({ isPlaying: false }));
  }

  /** Begins a sound; one that is playing already goes on. `asked` is when the key was pressed. */
  begin(item: EntryItem, asked: number): void {
    const key = `${item.archiveId}:${item.index}`;
    if (this.now?.key === key) return;
    this.now = { key, ready: undefined };
    this.isHeld = false;
    this.isAtEnd = false;
    this.rest();
    void this.store.ready(item).then(
      (ready) => {
        if (this.isOver || this.now?.key !== key) return;
        this.now = { key, ready };
        if (!this.isHeld) this.play(ready, asked);
      },
      (error: unknown) => {
        if (this.now?.key === key) this.onState({ failed: (error as Error).message, isPlaying: false });
      },
    );
  }

  /** Makes sounds ready that may be asked for next. */
  prepare(items: readonly (EntryItem | undefined)[]): void {
    for (const item of items) if (item) void this.store.ready(item).catch(() => undefined);
  }

  private play(ready: Ready, asked?: number): void {
    this.rest();
    const heard = (): void =>
      this.onState({
        ...{ failed: '', isPlaying: true },
        ...(asked !== undefined && { waited: performance.now() - asked + 1000 * this.context.baseLatency }),
      });
    if ('address' in ready) {
      this.element.src = ready.address;
      this.element.playbackRate = this.speed;
      void this.element.play().then(heard, (error: unknown) => {
        // Another one was asked for before this one began.
        if ((error as Error).name !== 'AbortError') this.onState({ failed: (error as Error).message });
      });
      return;
    }
    const source = this.context.createBufferSource();
    source.buffer = ready.buffer;
    source.playbackRate.value = this.speed;
    source.connect(this.context.destination);
    source.onended = () => {
      if (this.source !== source) return;
      this.source = undefined;
      this.onState({ isPlaying: false });
      this.ended();
    };
    this.source = source;
    // Also where it is still about to rest.
    void this.context.resume();
    source.start();
    heard();
  }

  /** Silences what is heard. */
  private rest(): void {
    const { source } = this;
    this.source = undefined;
    source?.stop();
    if (!this.element.paused) this.element.pause();
  }

  /** One came to its end by itself. */
  private ended(): void {
    if (this.isHeld) this.isAtEnd = true;
    else this.onEnd();
  }

  /** Rests, or goes on where it was. */
  turn(): void {
    const isGoing = this.now?.ready === undefined || this.source !== undefined || !this.element.paused;
    if (isGoing && !this.isHeld) this.hold();
    else this.goOn();
  }

  /** Rests, whether it is heard or about to be. */
  hold(): void {
    this.isHeld = true;
    if (!this.element.paused) this.element.pause();
    if (this.source) void this.context.suspend();
    this.onState({ isPlaying: false });
  }

  private goOn(): void {
    this.isHeld = false;
    const ready = this.now?.ready;
    if (this.isAtEnd) {
      this.isAtEnd = false;
      this.onEnd();
    } else if (!ready) return;
    else if ('address' in ready && this.element.src.endsWith(ready.address)) void this.element.play();
    else if (this.source) void this.context.resume().then(() => this.onState({ isPlaying: true }));
    else this.play(ready);
  }

  /** Once more from its beginning. */
  again(): void {
    this.isHeld = false;
    this.isAtEnd = false;
    if (this.now?.ready) this.play(this.now.ready);
  }

  setSpeed(speed: number): void {
    this.speed = speed;
    this.element.playbackRate = speed;
    if (this.source) this.source.playbackRate.value = speed;
  }

  end(): void {
    this.isOver = true;
    this.rest();
    void this.context.close();
  }
}
