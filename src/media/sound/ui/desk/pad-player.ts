import type { PadClip } from '@/media/sound/core/board';

/** What a key plays: where its sound is, and which stretch of it. */
export interface PadSound extends Pick<PadClip, 'from' | 'to' | 'gain'> {
  readonly key: string;
  readonly address: string;
}

/** An output that can be chosen; browsers that cannot choose one have no such method. */
type ChoosingContext = AudioContext & { setSinkId?(id: string): Promise<void> };

/** Plays the sounds of a pad, each from samples that lie ready; pressed again a key begins anew. */
export class PadPlayer {
  private readonly context: ChoosingContext = new AudioContext({ latencyHint: 'interactive' });
  private readonly volume = this.context.createGain();
  private readonly ready = new Map<string, Promise<AudioBuffer>>();
  private readonly sounding = new Map<string, AudioBufferSourceNode>();

  constructor(private readonly onSounding: (keys: ReadonlySet<string>) => void) {
    this.volume.connect(this.context.destination);
  }

  get canChooseOutput(): boolean {
    return this.context.setSinkId !== undefined;
  }

  /** Fetches and decodes a sound before it is asked for. */
  prepare(address: string): Promise<AudioBuffer> {
    let known = this.ready.get(address);
    if (!known) {
      this.ready.set(address, (known = this.fetched(address)));
      known.catch(() => this.ready.delete(address));
    }
    return known;
  }

  private async fetched(address: string): Promise<AudioBuffer> {
    const answer = await fetch(address);
    if (!answer.ok) throw new Error(((await answer.json()) as { error: string }).error);
    return this.context.decodeAudioData(await answer.arrayBuffer());
  }

  async play({ key, address, from = 0, to, gain }: PadSound): Promise<void> {
    const buffer = await this.prepare(address);
    this.stop(key);
    if (this.context.state === 'suspended') await this.context.resume();
    const source = this.context.createBufferSource();
    const level = this.context.createGain();
    level.gain.value = 10 ** (gain / 20);
    source.buffer = buffer;
    source.connect(level).connect(this.volume);
    source.onended = () => {
      if (this.sounding.get(key) !== source) return;
      this.sounding.delete(key);
      this.tell();
    };
    this.sounding.set(key, source);
    source.start(0, from, to === undefined ? undefined : Math.max(0, to - from));
    this.tell();
  }

  stop(key: string): void {
    const source = this.sounding.get(key);
    if (!source) return;
    this.sounding.delete(key);
    source.stop();
    this.tell();
  }

  stopAll(): void {
    for (const key of [...this.sounding.keys()]) this.stop(key);
  }

  private tell(): void {
    this.onSounding(new Set(this.sounding.keys()));
  }

  setVolume(share: number): void {
    this.volume.gain.value = share;
  }

  /** Plays on an output by its number; on the usual one where it is empty. */
  async choose(output: string): Promise<void> {
    await this.context.setSinkId?.(output);
  }

  end(): void {
    this.stopAll();
    void this.context.close();
  }
}
