import Box from '@mui/material/Box';
import type { FileNow, InstalledFile } from '@/server/installing/installations';
import { bytes } from '../format';
import { sheet } from '../kit/Screen';
import { StateMark, type Tone } from '../kit/StateMark';

const FILE_TONES: Record<FileNow['state'], Tone> = {
  'as installed': 'good',
  original: 'mute',
  changed: 'bad',
  missing: 'bad',
};

/** Each file that an installation has changed, as it is now, and whether its original is kept. */
export function InstalledFiles({ files, now }: { files: readonly InstalledFile[]; now: readonly FileNow[] }) {
  return (
    <Box sx={sheet}>
      {files.map((file) => (
        <FileRow key={file.path} file={file} now={now.find(({ path }) => path === file.path)} />
      ))}
    </Box>
  );
}

function FileRow({ file, now }: { file: InstalledFile; now: FileNow | undefined }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) 130px 170px',
        gap: 1.5,
        px: 1.5,
        py: 1,
        borderBottom: 1,
        borderColor: 'line',
        alignItems: 'center',
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <Box className="mono" sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>
          {file.path}
        </Box>
        <Box
          className="mono"
          sx={{ color: 'ink2', fontSize: 11.5, overflow: 'hidden', textOverflow: 'ellipsis' }}
        >
          original {file.before?.slice(0, 16) ?? 'none'}
          {typeof now?.originalSize === 'number' && ` of ${bytes(now.originalSize)}`}, now{' '}
          {now?.now?.slice(0, 16) ?? 'none'}
          {typeof now?.size === 'number' && ` of ${bytes(now.size)}`}
        </Box>
      </Box>
      {now && <StateMark tone={FILE_TONES[now.state]}>{now.state}</StateMark>}
      {now && (
        <StateMark tone={now.kept ? 'good' : 'bad'}>{now.kept ? 'original kept' : 'original lost'}</StateMark>
      )}
    </Box>
  );
}
