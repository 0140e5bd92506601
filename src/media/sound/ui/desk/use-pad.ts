'use client';
import { enqueueSnackbar } from 'notistack';
import { useEffect, useRef, useState } from 'react';
import { keepText, useKeptText } from '@/ui/kept-text';
import { isForPage } from '@/ui/letter-keys';
import { PadPlayer, type PadSound } from './pad-player';

const VOLUME = 'zero-latch-pad-volume';
const OUTPUT = 'zero-latch-pad-output';

/** What plays on a pad: keys that sound, the volume and the output, both remembered. */
export function usePad(sounds: ReadonlyMap<string, PadSound>) {
  const [sounding, setSounding] = useState<ReadonlySet<string>>(new Set());
  const player = useRef<PadPlayer>(null);
  const latest = useRef(sounds);
  const keptVolume = Number(useKeptText(VOLUME) ?? 1);
  const volume = keptVolume >= 0 && keptVolume <= 1 ? keptVolume : 1;
  const output = useKeptText(OUTPUT) ?? '';
  const [canChoose, setCanChoose] = useState(false);
  const play = (key: string): void => {
    const sound = latest.current.get(key);
    if (sound)
      player.current
        ?.play(sound)
        .catch((error: unknown) => enqueueSnackbar((error as Error).message, { variant: 'error' }));
  };
  useEffect(() => {
    latest.current = sounds;
    for (const { address } of sounds.values()) void player.current?.prepare(address).catch(() => undefined);
  }, [sounds]);
  useEffect(() => {
    const own = new PadPlayer(setSounding);
    player.current = own;
    setCanChoose(own.canChooseOutput);
    for (const { address } of latest.current.values()) void own.prepare(address).catch(() => undefined);
    const press = (event: KeyboardEvent): void => {
      if (!isForPage(event) || event.repeat) return;
      if (event.key === 'Escape') return own.stopAll();
      const key = event.key.toLowerCase();
      if (!latest.current.has(key)) return;
      event.preventDefault();
      play(key);
    };
    window.addEventListener('keydown', press);
    return () => {
      window.removeEventListener('keydown', press);
      player.current = null;
      own.end();
    };
  }, []);
  useEffect(() => player.current?.setVolume(volume), [volume]);
  useEffect(() => {
    player.current?.choose(output).catch(() => {
      // It was unplugged; the usual one plays.
      keepText(OUTPUT, '');
    });
  }, [output]);
  return {
    ...{ sounding, volume, output, canChoose, play },
    stop: (key: string) => player.current?.stop(key),
    stopAll: () => player.current?.stopAll(),
    setVolume: (share: number) => keepText(VOLUME, String(share)),
    choose: (id: string) => keepText(OUTPUT, id),
  };
}
