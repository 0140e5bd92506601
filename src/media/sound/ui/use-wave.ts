'use client';
import { useEffect, useRef, useState } from 'react';
import WaveSurfer from 'wavesurfer.js';
import RegionsPlugin, { type Region } from 'wavesurfer.js/dist/plugins/regions.esm.js';
import SpectrogramPlugin from 'wavesurfer.js/dist/plugins/spectrogram.esm.js';

/** A stretch of a sound, in seconds. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

/** What a wave is drawn with. */
export interface WaveLook {
  readonly isDark: boolean;
  /** The stretch that is played again and again, and places that are marked. */
  readonly loop: Stretch | undefined;
  readonly cues: readonly number[];
  /** Whether what sounds when is drawn below it, by its pitches. */
  readonly showsPitches: boolean;
}

export interface Wave {
  readonly box: React.RefObject<HTMLDivElement | null>;
  readonly player: React.RefObject<WaveSurfer | null>;
  readonly isPlaying: boolean;
  readonly length: number | undefined;
  readonly at: number;
  readonly failed: string;
  /** What was marked by dragging over the wave. */
  readonly chosen: Stretch | undefined;
  /** Plays or rests; asked before the sound is there, it plays once it is. */
  turn(): void;
  /** Takes the mark away. */
  clear(): void;
}

/** Pitches up to half of this are drawn; the package draws up to 4,000 Hz where nothing is said. */
const DRAWN_RATE = 44_100;
/** Drawing sounds by their pitches takes the page's time; longer ones are drawn as they come into sight. */
const WHOLE_SECONDS = 20;

const COLOURS = {
  dark: {
    wave: '#5f8f89',
    done: '#dba94d',
    chosen: 'rgba(219, 169, 77, 0.22)',
    mark: 'rgba(95, 143, 137, 0.28)',
  },
  light: {
    wave: '#3a7a74',
    done: '#9a6a14',
    chosen: 'rgba(154, 106, 20, 0.16)',
    mark: 'rgba(58, 122, 116, 0.16)',
  },
} as const;

/** A sound as its wave. Dragging over it marks a stretch; its loop and its cues are drawn in. */
export function useWave(url: string, { isDark, loop, cues, showsPitches }: WaveLook): Wave {
  const box = useRef<HTMLDivElement>(null);
  const player = useRef<WaveSurfer>(null);
  const marked = useRef<Region>(null);
  const isReady = useRef(false);
  const isAwaited = useRef(false);
  const [isPlaying, setPlaying] = useState(false);
  const [length, setLength] = useState<number>();
  const [at, setAt] = useState(0);
  const [failed, setFailed] = useState('');
  const [chosen, setChosen] = useState<Stretch>();
  const [from, to] = [loop?.from, loop?.to];
  const places = cues.join();
  useEffect(() => {
    const colours = COLOURS[isDark ? 'dark' : 'light'];
    const regions = RegionsPlugin.create();
    const wave = WaveSurfer.create({
      container: box.current!,
      url,
      height: 92,
      sampleRate: DRAWN_RATE,
      waveColor: colours.wave,
      progressColor: colours.done,
      cursorColor: colours.done,
      barWidth: 2,
      barGap: 1,
      barRadius: 1,
      plugins: [regions],
    });
    player.current = wave;
    wave.on('play', () => setPlaying(true));
    wave.on('pause', () => setPlaying(false));
    wave.on('finish', () => setPlaying(false));
    wave.on('timeupdate', setAt);
    wave.on('error', (error) => setFailed(error.message));
    wave.on('ready', (seconds) => {
      setLength(seconds);
      isReady.current = true;
      if (isAwaited.current) void wave.play();
      isAwaited.current = false;
      if (from !== undefined && to !== undefined)
        regions.addRegion({
          ...{ id: 'loop', start: from, end: to, content: 'loop', color: colours.mark },
          ...{ drag: false, resize: false },
        });
      for (const [i, place] of (places === '' ? [] : places.split(',')).entries())
        regions.addRegion({
          ...{ id: `cue ${i + 1}`, start: Number(place), content: String(i + 1), color: colours.done },
          ...{ drag: false, resize: false },
        });
      if (showsPitches)
        wave.registerPlugin(
          SpectrogramPlugin.create({
            ...{ height: 96, labels: true, fftSamples: 512, scale: 'mel', colorMap: 'roseus' },
            rendering: seconds > WHOLE_SECONDS ? 'windowed' : 'full',
          }),
        );
    });
    regions.enableDragSelection({ color: colours.chosen });
    const choose = (region: Region): void => {
      if (region.id === 'loop' || region.id.startsWith('cue ')) return;
      if (marked.current !== region) marked.current?.remove();
      marked.current = region;
      setChosen({ from: region.start, to: region.end });
    };
    regions.on('region-created', choose);
    regions.on('region-updated', choose);
    return () => {
      marked.current = null;
      isReady.current = false;
      isAwaited.current = false;
      // The next one begins at its beginning.
      setChosen(undefined);
      setPlaying(false);
      setLength(undefined);
      setAt(0);
      setFailed('');
      wave.destroy();
    };
  }, [url, isDark, from, to, places, showsPitches]);
  return {
    ...{ box, player, isPlaying, length, at, failed, chosen },
    turn() {
      if (isReady.current) void player.current?.playPause();
      else isAwaited.current = !isAwaited.current;
    },
    clear() {
      marked.current?.remove();
      marked.current = null;
      setChosen(undefined);
    },
  };
}
