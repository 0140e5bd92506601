'use client';
import Box from '@mui/material/Box';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { memo, useState } from 'react';
import { number } from '../format';
import { LENSES } from '@/media/lenses';

/** The lenses with how many entries each shows. Kept from being made anew while one scrolls: tabs measure themselves then. */
export const LensTabs = memo(function LensTabs({
  kind,
  kinds,
  onKind,
}: {
  kind: string;
  kinds: Readonly<Record<string, number>>;
  onKind: (kind: string) => void;
}) {
  const all = Object.values(kinds).reduce((a, b) => a + b, 0);
  // What a game has none of takes no room; what was there once stays, whatever a search leaves of it.
  const [seen, setSeen] = useState<ReadonlySet<string>>(new Set());
  const fresh = Object.keys(kinds).filter((one) => kinds[one]! > 0 && !seen.has(one));
  if (fresh.length > 0) setSeen(new Set([...seen, ...fresh]));
  const shown = LENSES.filter(({ kind: one }) => one === '' || one === kind || seen.has(one));
  return (
    <Tabs
      value={kind}
      onChange={(_event, next: string) => onKind(next)}
      variant="scrollable"
      scrollButtons="auto"
      allowScrollButtonsMobile
      sx={{ flex: 1, minHeight: 42, minWidth: 0, '& .MuiTabs-scrollButtons.Mui-disabled': { opacity: 0.3 } }}
      aria-label="Lens"
      slotProps={{ indicator: { sx: { bgcolor: 'brass', height: 3 } } }}
    >
      {shown.map(({ kind: value, title }) => (
        <Tab
          key={value}
          value={value}
          sx={{
            minHeight: 42,
            minWidth: 0,
            px: 1.1,
            color: 'ink2',
            '&.Mui-selected': { color: 'text.primary', fontWeight: 700 },
          }}
          label={
            <span>
              {title}{' '}
              <Box component="span" sx={{ fontSize: 12, color: 'ink2', fontWeight: 400 }}>
                {number(value === '' ? all : (kinds[value] ?? 0))}
              </Box>
            </span>
          }
        />
      ))}
    </Tabs>
  );
});
