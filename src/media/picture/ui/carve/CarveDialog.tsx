'use client';
import CloseIcon from '@mui/icons-material/Close';
import Alert from '@mui/material/Alert';
import Box from '@mui/material/Box';
import Dialog from '@mui/material/Dialog';
import IconButton from '@mui/material/IconButton';
import LinearProgress from '@mui/material/LinearProgress';
import Typography from '@mui/material/Typography';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type { Buried, CarveView } from '@/server/looking/carve';
import type { Carved } from '@/server/looking/texture-threads';
import { api } from '@/ui/api';
import { bytes, nameOf, number, plural } from '@/ui/format';
import { checker } from '@/ui/kit/checker';
import type { ChannelSource } from '../light-table/ChannelMap';
import { useMod } from '@/ui/use-mod';
import { buriedQuery } from './buried-query';
import { BuriedControls } from './BuriedControls';

const FIRST: Buried = { offset: 0, layout: 'bc1', width: 64, height: 64, levels: 1, length: 0 };

/** What was found, as something to be looked at. */
const findsOf = ({ files, blocks }: Carved): { label: string; buried: Buried }[] =>
  [
    ...files.map(({ ending, offset, length }) => ({
      label: `${ending.toUpperCase()}, ${bytes(length)}`,
      buried: { ...FIRST, layout: 'file', offset, length },
    })),
    ...blocks.map(({ layout, offset, width, height, levels, length }) => ({
      label: `${layout.toUpperCase()}, ${width} x ${height}${levels > 1 ? `, ${levels} levels` : ''}`,
      buried: { layout, offset, width, height, levels, length },
    })),
  ].sort((a, b) => a.buried.offset - b.buried.offset);

/** Pictures in a file that has no table of them: found, or looked for by hand; taken out and put back. */
export function CarveDialog({
  source,
  path,
  onClose,
}: {
  source: ChannelSource;
  path: string;
  onClose: () => void;
}) {
  const { gameId, archiveId, index } = source;
  const { mod } = useMod(gameId);
  const url = `games/${gameId}/entries/${archiveId}/${index}/carve`;
  const [chosen, setChosen] = useState<Buried>();
  const { data, error, isFetching } = useQuery({
    queryKey: ['carve', url, mod?.id],
    retry: false,
    queryFn: ({ signal }) => api.get<CarveView>(`${url}${mod ? `?mod=${mod.id}` : ''}`, signal),
  });
  const finds = data ? findsOf(data) : [];
  const shown = chosen ?? finds[0]?.buried ?? FIRST;
  return (
    <Dialog
      fullScreen
      open
      onClose={onClose}
      slotProps={{ paper: { 'aria-label': `Pictures buried in ${path}` } }}
    >
      <Box sx={{ display: 'flex', height: '100%', minHeight: 0 }}>
        <Box sx={{ flex: 1, minWidth: 0, display: 'flex', flexDirection: 'column', p: 2, gap: 1.5 }}>
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5 }}>
            <Typography variant="h1" title={path}>
              {nameOf(path)}
            </Typography>
            <Box sx={{ color: 'ink2', flex: 1 }}>
              {data && `${number(data.size)} bytes, ${plural(finds.length, 'picture')} found`}
            </Box>
            <IconButton aria-label="Close" onClick={onClose}>
              <CloseIcon />
            </IconButton>
          </Box>
          <Box sx={{ height: 3 }}>{isFetching && <LinearProgress />}</Box>
          {error && <Alert severity="error">{error.message}</Alert>}
          <BuriedPicture
            key={`${url}?${buriedQuery(shown, mod?.id)} ${data?.size}`}
            address={`/api/${url}/picture?${buriedQuery(shown, mod?.id)}`}
          />
        </Box>
        <Box
          component="aside"
          sx={{
            width: 360,
            flexShrink: 0,
            borderLeft: 1,
            borderColor: 'line',
            bgcolor: 'panel',
            p: 2,
            overflow: 'auto',
          }}
        >
          <Typography variant="h2" sx={{ mb: 1 }}>
            Found
          </Typography>
          {data && finds.length === 0 && (
            <Box sx={{ color: 'ink2', mb: 1 }}>
              Nothing begins like a picture, and no stretch looks like blocks of one. Look for it by hand
              below.
            </Box>
          )}
          <Box role="list" aria-label="Found pictures" sx={{ mb: 2 }}>
            {finds.map(({ label, buried }) => (
              <Box key={buried.offset} role="listitem">
                <Box
                  component="button"
                  aria-pressed={buried.offset === shown.offset && buried.layout === shown.layout}
                  onClick={() => setChosen(buried)}
                  sx={{
                    all: 'unset',
                    boxSizing: 'border-box',
                    display: 'flex',
                    width: '100%',
                    gap: 1,
                    px: 1,
                    py: 0.6,
                    cursor: 'pointer',
                    borderBottom: 1,
                    borderColor: 'line',
                    bgcolor: buried.offset === shown.offset ? 'tint' : 'transparent',
                    '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
                  }}
                >
                  <Box sx={{ flex: 1 }}>{label}</Box>
                  <Box sx={{ color: 'ink2', fontSize: 12.5 }}>at {number(buried.offset)}</Box>
                </Box>
              </Box>
            ))}
          </Box>
          <BuriedControls
            source={source}
            stem={nameOf(path)}
            modId={mod?.id}
            view={data}
            buried={shown}
            onChange={setChosen}
          />
        </Box>
      </Box>
    </Dialog>
  );
}

function BuriedPicture({ address }: { address: string }) {
  const [failed, setFailed] = useState(false);
  return (
    <Box
      sx={{
        flex: 1,
        minHeight: 0,
        border: 1,
        borderColor: 'line',
        borderRadius: 1,
        p: 1,
        position: 'relative',
      }}
    >
      {failed ? (
        <Box sx={{ color: 'ink2', p: 2 }}>
          No picture of this size lies there: it would reach behind the end of the file.
        </Box>
      ) : (
        <img
          src={address}
          alt="What is buried there"
          onError={() => setFailed(true)}
          style={{
            width: '100%',
            height: '100%',
            objectFit: 'contain',
            imageRendering: 'pixelated',
            ...checker,
          }}
        />
      )}
    </Box>
  );
}
