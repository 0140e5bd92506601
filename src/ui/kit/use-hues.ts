'use client';
import { useColorScheme } from '@mui/material/styles';

/** Hues for pictures of bytes, alike in the bar of a build and the map of a folder. */
const HUES = {
  light: {
    open: '#2c7563',
    locked: '#7b878a',
    broken: '#b2402a',
    kept: '#2f6d6a',
    changed: '#b57b17',
    table: '#56708c',
    unexplained: '#9b978b',
    ink: '#ffffff',
    gap: '#f4f1ea',
    stage: '#f4f1ea',
    lines: '#15282c',
  },
  dark: {
    open: '#2d6b5c',
    locked: '#4d5b60',
    broken: '#a04630',
    kept: '#2b605e',
    changed: '#9a6b18',
    table: '#4b6582',
    unexplained: '#55605f',
    ink: '#f3efe4',
    gap: '#0d181b',
    stage: '#0d181b',
    lines: '#ebe6da',
  },
} as const;

export type Hues = { [K in keyof (typeof HUES)['light']]: string };

export function useHues(): Hues {
  const { mode, systemMode } = useColorScheme();
  return HUES[(mode === 'system' ? systemMode : mode) === 'dark' ? 'dark' : 'light'];
}
