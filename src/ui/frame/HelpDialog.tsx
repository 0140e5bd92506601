'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { PageLink } from '../kit/PageLink';
import { usePathname } from 'next/navigation';
import { useState } from 'react';
import { useLetterKeys } from '../letter-keys';
import {
  CONTENTS_KEYS,
  DOCS,
  EVERYWHERE_KEYS,
  FIRST_STEPS,
  LIGHT_TABLE_KEYS,
  SCREENS,
  SEARCH,
} from './help-texts';

const TABS = ['First steps', 'This screen', 'Searching', 'Keys'] as const;

/** A help that leads: the first steps, what the screen one is on is for, how to search, and all keys. */
export function HelpDialog({ open, onClose }: { open: boolean; onClose: () => void }) {
  const path = usePathname();
  const screen = path.split('/').at(-1) ?? '';
  const help = SCREENS[screen];
  const [chosen, setTab] = useState<(typeof TABS)[number]>();
  const tab = chosen ?? (help ? 'This screen' : 'First steps');
  const [letters, setLetters] = useLetterKeys();
  return (
    <Dialog open={open} onClose={onClose} maxWidth="sm" fullWidth>
      <DialogTitle sx={{ fontSize: 17, pb: 0 }}>Help</DialogTitle>
      <Tabs
        value={tab}
        onChange={(_event, next: (typeof TABS)[number]) => setTab(next)}
        sx={{ px: 2 }}
        aria-label="Help"
      >
        {TABS.map((title) => (
          <Tab key={title} value={title} label={title} />
        ))}
      </Tabs>
      <DialogContent sx={{ minHeight: 380 }}>
        {tab === 'First steps' && (
          <>
            <Box component="ol" sx={{ pl: 2.5, m: 0, '& li': { mb: 1 } }}>
              {FIRST_STEPS.map(([title, what]) => (
                <li key={title}>
                  <b>{title}.</b> {what}
                </li>
              ))}
            </Box>
            <Box sx={{ fontWeight: 700, mt: 2, mb: 0.5 }}>To read on</Box>
            {DOCS.map(([name, title]) => (
              <Box key={name}>
                <PageLink href={`/docs/${name}`} onClick={onClose}>
                  {title}
                </PageLink>
              </Box>
            ))}
          </>
        )}
        {tab === 'This screen' && (
          <Box component="ul" sx={{ pl: 2.5, m: 0, '& li': { mb: 1 } }}>
            {(help ?? ['The shelf holds your games. Open one, or add the folder of another.']).map((line) => (
              <li key={line}>{line}</li>
            ))}
          </Box>
        )}
        {tab === 'Searching' && <Rows rows={SEARCH} width={190} />}
        {tab === 'Keys' && (
          <>
            <FormControlLabel
              control={<Switch checked={letters} onChange={(_event, on) => setLetters(on)} />}
              label="Single letters are keys; switched off, only arrows, Space, Enter and signs are"
              sx={{ mb: 1 }}
            />
            <Head>Everywhere</Head>
            <Rows rows={EVERYWHERE_KEYS} width={110} />
            <Head>Contents</Head>
            <Rows rows={CONTENTS_KEYS} width={110} />
            <Head>Light table</Head>
            <Rows rows={LIGHT_TABLE_KEYS} width={110} />
          </>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function Head({ children }: { children: string }) {
  return <Box sx={{ fontWeight: 700, mt: 1.5, mb: 0.5 }}>{children}</Box>;
}

function Rows({ rows, width }: { rows: readonly (readonly [string, string])[]; width: number }) {
  return rows.map(([key, what]) => (
    <Box key={key} sx={{ display: 'flex', gap: 2, py: 0.5, borderBottom: 1, borderColor: 'line' }}>
      <Box component="kbd" className="mono" sx={{ width, flexShrink: 0, fontWeight: 700 }}>
        {key}
      </Box>
      {what}
    </Box>
  ));
}
