'use client';
import DarkModeOutlined from '@mui/icons-material/DarkModeOutlined';
import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import HelpOutlineRounded from '@mui/icons-material/HelpOutlineRounded';
import LightModeOutlined from '@mui/icons-material/LightModeOutlined';
import SettingsBrightnessOutlined from '@mui/icons-material/SettingsBrightnessOutlined';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useColorScheme } from '@mui/material/styles';
import { PageLink } from '../kit/PageLink';
import { useEffect, useState, type ReactNode } from 'react';
import { HelpDialog } from './HelpDialog';
import { JobsButton } from './JobsButton';
import { Logo } from './Logo';

const NEXT = { light: 'dark', dark: 'system', system: 'light' } as const;
const ICON = { light: LightModeOutlined, dark: DarkModeOutlined, system: SettingsBrightnessOutlined };
const WORD = { light: 'Light', dark: 'Dark', system: 'As the system' };

function ModeButton() {
  const { mode } = useColorScheme();
  const { setMode } = useColorScheme();
  if (!mode) return <Box sx={{ width: 34 }} />;
  const Icon = ICON[mode];
  return (
    <Tooltip title={`${WORD[mode]}; press for ${WORD[NEXT[mode]].toLowerCase()}`}>
      <IconButton
        aria-label={`Colours: ${WORD[mode]}`}
        onClick={() => setMode(NEXT[mode])}
        sx={{ color: 'barInk' }}
        size="small"
      >
        <Icon fontSize="small" />
      </IconButton>
    </Tooltip>
  );
}

export function TopBar({ children, mod }: { children?: ReactNode; mod?: ReactNode }) {
  const [help, setHelp] = useState(false);
  useEffect(() => {
    const open = (event: KeyboardEvent): void => {
      const at = event.target as HTMLElement;
      if (event.key === '?' && !at.closest('input, textarea, [contenteditable]')) setHelp(true);
    };
    window.addEventListener('keydown', open);
    return () => window.removeEventListener('keydown', open);
  }, []);
  return (
    <Box
      component="header"
      sx={{
        height: 48,
        flexShrink: 0,
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        px: 2,
        bgcolor: 'bar',
        color: 'barInk',
      }}
    >
      <Box
        component={PageLink}
        href="/"
        sx={{
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          color: 'inherit',
          textDecoration: 'none',
          fontWeight: 700,
          fontSize: 15,
        }}
      >
        <Logo />
        Zero Latch
      </Box>
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', alignItems: 'center', gap: 2 }}>{children}</Box>
      {mod}
      <Tooltip title="Sound desk: strips and pads">
        <IconButton
          component={PageLink}
          href="/sound-desk"
          aria-label="Sound desk"
          sx={{ color: 'barInk' }}
          size="small"
        >
          <GraphicEqRounded fontSize="small" />
        </IconButton>
      </Tooltip>
      <JobsButton />
      <ModeButton />
      <Tooltip title="Keys and help (?)">
        <IconButton aria-label="Help" onClick={() => setHelp(true)} sx={{ color: 'barInk' }} size="small">
          <HelpOutlineRounded fontSize="small" />
        </IconButton>
      </Tooltip>
      <HelpDialog open={help} onClose={() => setHelp(false)} />
    </Box>
  );
}
