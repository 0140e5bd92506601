'use client';
import Box from '@mui/material/Box';
import type { Preview } from '@/server/recipes/recipes';

/** The first files that would be written, names that had to be changed, and paths that are not there. */
export function RecipePreview({ preview: { files, renamed, missing, count } }: { preview: Preview }) {
  return (
    <Box role="region" aria-label="Preview" sx={{ mt: 1, maxHeight: 220, overflow: 'auto' }}>
      {missing.map((path) => (
        <Box key={path} sx={{ color: 'bad' }}>
          not there: <span className="mono">{path}</span>
        </Box>
      ))}
      {renamed.map(({ path, wanted, file }) => (
        <Box key={path} sx={{ color: 'look' }}>
          <span className="mono">{wanted}</span> becomes <span className="mono">{file}</span>
        </Box>
      ))}
      {files.map(({ path, file }) => (
        <Box key={path} className="mono" title={path} sx={{ overflowWrap: 'anywhere' }}>
          {file}
        </Box>
      ))}
      {count > files.length && <Box sx={{ color: 'ink2' }}>and so on</Box>}
    </Box>
  );
}
