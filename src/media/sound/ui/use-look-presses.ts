'use client';
import { useEffect, useState } from 'react';

/** How often the key to look was pressed since this was there; what is fetched later is told of presses it missed. */
export function useLookPresses(): number {
  const [presses, setPresses] = useState(0);
  useEffect(() => {
    const press = (): void => setPresses((before) => before + 1);
    window.addEventListener('zero-latch-look', press);
    return () => window.removeEventListener('zero-latch-look', press);
  }, []);
  return presses;
}
