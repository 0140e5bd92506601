'use client';
import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import type { MergedFile } from '@/server/mods/merge-tables';
import type { ModView } from '@/server/mods/mods';
import { plural } from '../format';
import { sheet } from '../kit/Screen';

/** Tables that several mods change and of which each has its values in the build. */
export function MergedFiles({ files, mods }: { files: readonly MergedFile[]; mods: readonly ModView[] }) {
  const titleOf = (id: number): string => mods.find((mod) => mod.id === id)?.title ?? `mod ${id}`;
  return (
    <Box component="section" aria-label="Put together" sx={{ mt: 3 }}>
      <Typography variant="h2" sx={{ mb: 1 }}>
        {plural(files.length, 'table is', 'tables are')} put together from several mods, value by value
      </Typography>
      <Box sx={sheet}>
        {files.map(({ path, mods: ids, values, clashes }) => (
          <Box key={path} sx={{ px: 1.5, py: 0.75, borderBottom: 1, borderColor: 'line' }}>
            <Box className="mono" sx={{ overflowWrap: 'anywhere' }}>
              {path}
            </Box>
            <Box sx={{ fontSize: 13, color: 'ink2' }}>
              {ids.map((id, i) => `${plural(values[i]!, 'value')} of ${titleOf(id)}`).join(', ')}
              {clashes > 0 &&
                `; ${plural(clashes, 'value is', 'values are')} said differently, the choice above counts for ${clashes === 1 ? 'it' : 'them'} only`}
            </Box>
          </Box>
        ))}
      </Box>
    </Box>
  );
}
