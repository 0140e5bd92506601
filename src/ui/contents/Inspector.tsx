'use client';
import ContentCopyRounded from '@mui/icons-material/ContentCopyRounded';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { enqueueSnackbar } from 'notistack';
import { memo, useEffect, useState } from 'react';
import { useDropzone } from 'react-dropzone';
import type { EntryDetail } from '@/server/looking/preview';
import { bytes, folderOf, hex, nameOf, number } from '../format';
import { NewModDialog } from '../frame/NewModDialog';
import { Failed, Loading } from '../kit/Blank';
import { Facts } from '../kit/Facts';
import { useChanges, useEntry } from '../queries';
import { BytesView } from './BytesView';
import { CompareEntries, type Compared } from '../compare/CompareDialog';
import { CarveDialog } from '@/media/picture/ui/carve/CarveDialog';
import { EntryLinks } from './EntryLinks';
import { EntryLook } from './EntryLook';
import { KindFact } from './KindFact';
import { EntryMarks } from './EntryMarks';
import { EntryMore } from './EntryMore';
import { spelledHead } from '@/media/lenses';
import type { BesideProps } from '@/media/medium-ui';
import { uiOf } from '@/media/ui';
import { dropDraft } from './use-draft';
import { useReplace } from './use-replace';

interface Props {
  gameId: number;
  archiveId: number;
  index: number;
  onExtract: (entry: { archiveId: number; index: number; path: string; kind: string; size: number }) => void;
  onShow: (archiveId: number, index: number) => void;
}

/** One entry: the thing itself first, then its facts, then which archive answers for its path. */
export const Inspector = memo(function Inspector({ gameId, archiveId, index, onExtract, onShow }: Props) {
  const { data, error, refetch } = useEntry(gameId, archiveId, index);
  const { mod, action } = useReplace(gameId);
  const { data: changes } = useChanges(gameId, mod?.id);
  const [showBytes, setShowBytes] = useState(false);
  const [isCarving, setIsCarving] = useState(false);
  const [comparing, setComparing] = useState<Compared>();
  const [waiting, setWaiting] = useState<{ file: File; done: (() => void) | undefined }>();
  const replace = (file: File, modId?: number, done?: () => void): void => {
    if (!mod && modId === undefined) return setWaiting({ file, done });
    action.mutate({
      ...{ archiveId, index, file, path: data?.path ?? '', done },
      ...(modId !== undefined && { modId }),
    });
  };
  const drop = useDropzone({
    noClick: true,
    noKeyboard: true,
    multiple: false,
    onDrop: ([file]) => file && replace(file),
  });
  const { open: choose } = drop;
  useEffect(() => {
    const bytesKey = (): void => setShowBytes((shown) => !shown);
    window.addEventListener('zero-latch-replace', choose);
    window.addEventListener('zero-latch-bytes', bytesKey);
    return () => {
      window.removeEventListener('zero-latch-replace', choose);
      window.removeEventListener('zero-latch-bytes', bytesKey);
    };
  }, [choose]);
  if (error && !data)
    return <Failed error={error} again={<Button onClick={() => void refetch()}>Try again</Button>} />;
  if (!data) return <Loading what="Opening the entry" />;
  const url = `/api/games/${gameId}/entries/${archiveId}/${index}`;
  const change = changes?.find((one) => one.archiveId === archiveId && one.index === index);
  const saveText = (text: string, draftKey: string): void =>
    replace(new File([text], nameOf(data.path), { type: 'text/plain' }), undefined, () =>
      dropDraft(draftKey),
    );
  return (
    <Box
      {...drop.getRootProps()}
      sx={{ height: '100%', display: 'flex', flexDirection: 'column', position: 'relative' }}
    >
      <input {...drop.getInputProps({ 'aria-label': 'File to put in its place' })} />
      {drop.isDragActive && (
        <Box
          sx={{
            position: 'absolute',
            inset: 8,
            zIndex: 5,
            border: 2,
            borderStyle: 'dashed',
            borderColor: 'brass',
            borderRadius: 1,
            bgcolor: 'panel',
            display: 'flex',
            alignItems: 'center',
            justifyContent: 'center',
            p: 3,
            textAlign: 'center',
            fontWeight: 700,
          }}
        >
          Drop it to put it in the place of {nameOf(data.path)}
        </Box>
      )}
      <Box sx={{ flex: 1, overflow: 'auto', p: 1.75 }}>
        <EntryLook
          gameId={gameId}
          data={data}
          change={change && mod ? { modId: mod.id, modTitle: mod.title, change } : undefined}
          onSave={saveText}
          saving={action.isPending}
        />
        <Title data={data} />
        <EntryFacts gameId={gameId} data={data} />
        <Stack data={data} onShow={onShow} onCompare={setComparing} />
        <EntryMarks key={data.path} gameId={gameId} data={data} />
        <MediumBeside gameId={gameId} data={data} onShow={onShow} />
        <EntryLinks
          gameId={gameId}
          archiveId={archiveId}
          index={index}
          path={data.path}
          hash={data.hash}
          hasAlike={uiOf(data.look.sort)?.shown?.some(([word]) => word === 'look') ?? false}
          onShow={onShow}
        />
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.75, p: 1.25, borderTop: 1, borderColor: 'line' }}>
        <Button variant="contained" onClick={choose} loading={action.isPending}>
          Replace
        </Button>
        <Button variant="outlined" onClick={() => onExtract({ ...data, kind: data.look.sort })}>
          Extract
        </Button>
        <Button component="a" variant="outlined" {...savedAs(data, url)}>
          Save
        </Button>
        <Button variant="outlined" onClick={() => setShowBytes(true)}>
          Bytes
        </Button>
        {data.look.sort === 'data' && (
          <Button variant="outlined" onClick={() => setIsCarving(true)}>
            Carve
          </Button>
        )}
        <EntryMore gameId={gameId} data={data} />
      </Box>
      {isCarving && (
        <CarveDialog
          source={{ gameId, archiveId, index }}
          path={data.path}
          onClose={() => setIsCarving(false)}
        />
      )}
      <Dialog open={showBytes} onClose={() => setShowBytes(false)} maxWidth="md" fullWidth>
        <DialogTitle className="mono" sx={{ fontSize: 14, overflowWrap: 'anywhere' }}>
          {data.path}, {number(data.size)} bytes
        </DialogTitle>
        <DialogContent sx={{ height: '70vh' }}>
          <BytesView url={`${url}/bytes`} size={data.size} />
        </DialogContent>
      </Dialog>
      {comparing && (
        <CompareEntries
          gameId={gameId}
          left={data}
          right={comparing}
          onClose={() => setComparing(undefined)}
        />
      )}
      <NewModDialog
        gameId={gameId}
        open={waiting !== undefined}
        onClose={() => setWaiting(undefined)}
        onMade={(id) => {
          if (waiting) replace(waiting.file, id, waiting.done);
        }}
      />
    </Box>
  );
});

/** The entry alone as a file, by one press: as its medium saves it, or as its plain bytes. */
function savedAs({ path, look }: EntryDetail, url: string): { href: string; download: string } {
  const name = nameOf(path) || 'entry';
  const saved = uiOf(look.sort)?.saved;
  return saved
    ? { href: `${url}/${saved.address}`, download: `${name.replace(/\.[^.]*$/, '')}${saved.ending}` }
    : { href: `${url}/raw?save=1`, download: name };
}

/** What the medium knows to belong to the entry. */
function MediumBeside(props: BesideProps) {
  const Beside = uiOf(props.data.look.sort)?.Beside;
  return Beside ? <Beside {...props} /> : null;
}

function Title({ data }: { data: EntryDetail }) {
  const { path, hash, index, labels, guessed } = data;
  const [at, setAt] = useState<HTMLElement | null>(null);
  const copy = (what: string, text: string): void => {
    setAt(null);
    void navigator.clipboard.writeText(text).then(() => enqueueSnackbar(`${what} is on the clipboard.`));
  };
  return (
    <Box sx={{ display: 'flex', alignItems: 'flex-start', mt: 1.5, mb: 0.5 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Box className="mono" sx={{ fontWeight: 700, fontSize: 14, overflowWrap: 'anywhere' }}>
          {nameOf(path)}
        </Box>
        {labels.length > 0 && <Box sx={{ fontWeight: 600 }}>{labels.join(', ')}</Box>}
        <Box className="mono" sx={{ color: 'ink2', overflowWrap: 'anywhere' }}>
          {folderOf(path)}
        </Box>
        {guessed && <Box sx={{ color: 'look', fontSize: 13 }}>The name is guessed.</Box>}
      </Box>
      <Tooltip title="Copy">
        <IconButton size="small" aria-label="Copy" onClick={(event) => setAt(event.currentTarget)}>
          <ContentCopyRounded sx={{ fontSize: 16 }} />
        </IconButton>
      </Tooltip>
      <Menu open={at !== null} anchorEl={at} onClose={() => setAt(null)}>
        <MenuItem onClick={() => copy('The path', path)}>Copy the path</MenuItem>
        <MenuItem onClick={() => copy('The name', nameOf(path))}>Copy the name</MenuItem>
        <MenuItem onClick={() => copy('The number', String(index))}>Copy the number</MenuItem>
        {hash && <MenuItem onClick={() => copy('The hash', hash)}>Copy the hash</MenuItem>}
        <MenuItem onClick={() => copy('The address', window.location.href)}>Copy this address</MenuItem>
      </Menu>
    </Box>
  );
}

/** What it is, in words of its medium; undefined for what is none. */
function factOf({ look }: EntryDetail): readonly [string, string] | undefined {
  const ui = uiOf(look.sort);
  if (look.sort === 'told') return ['Head', spelledHead(look)];
  if (!ui?.title) return undefined;
  return [ui.title, [spelledHead(look), ...(ui.more?.(look) ?? [])].join(', ')];
}

const FOUND_TOLD: Readonly<Record<string, string>> = { finest: 'the finest of several alike in name' };

/** How loud it was measured as, and what else was found then; undefined before that. */
function measuredFact({ measured }: EntryDetail): readonly [string, string] | undefined {
  if (!measured) return undefined;
  const { level, found } = measured;
  const words = found.map((word) => FOUND_TOLD[word] ?? word);
  if (level === undefined) return words.length > 0 ? ['Found', words.join(', ')] : undefined;
  const loud = level === null ? [] : [`${level.toFixed(1).replace('-', '\u2212')} dB`];
  return ['Level', [...loud, ...words].join(', ')];
}

function EntryFacts({ gameId, data }: { gameId: number; data: EntryDetail }) {
  return (
    <Facts
      rows={[
        factOf(data),
        measuredFact(data),
        ['Kind', <KindFact key="kind" gameId={gameId} data={data} />],
        [
          'Stored',
          `${bytes(data.storedSize)} of ${bytes(data.size)}${data.transforms.length > 0 ? `, ${data.transforms.join(', ')}` : ', as it is'}`,
        ],
        ['Number', `${number(data.index)} from 0, ${number(data.index + 1)} in lists`],
        ['Place', <code key="place">0x{hex(data.offset)}</code>],
        data.modified ? ['Changed', new Date(data.modified * 1000).toLocaleString('en-GB')] : undefined,
        data.hash ? ['Name hash', <code key="hash">{data.hash}</code>] : undefined,
        ...data.facts.map(([title, value]) => [title, value] as const),
        data.problem ? ['Problem', data.problem] : undefined,
      ]}
    />
  );
}

function Stack({
  data,
  onShow,
  onCompare,
}: {
  data: EntryDetail;
  onShow: (archiveId: number, index: number) => void;
  onCompare: (other: Compared) => void;
}) {
  return (
    <Box sx={{ mt: 2 }}>
      <Box sx={{ fontSize: 12.5, fontWeight: 700, color: 'ink2', mb: 0.75 }}>
        Answers for this path, in load order
      </Box>
      {data.stack.map((one) => (
        <Box key={`${one.archiveId}:${one.index}`} sx={{ display: 'flex', alignItems: 'center' }}>
          <Box
            component="button"
            onClick={() => onShow(one.archiveId, one.index)}
            sx={{
              all: 'unset',
              boxSizing: 'border-box',
              width: '100%',
              display: 'flex',
              gap: 1,
              px: 1,
              py: 0.6,
              mb: 0.5,
              cursor: 'pointer',
              borderLeft: 4,
              borderColor: one.wins ? 'brass' : 'line',
              bgcolor: one.wins ? 'lookBack' : 'transparent',
              '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
            }}
          >
            <Box
              className="mono"
              sx={{
                flex: 1,
                overflowWrap: 'anywhere',
                fontWeight: one.archiveId === data.archiveId && one.index === data.index ? 700 : 400,
              }}
            >
              {one.archive}
            </Box>
            <Box
              sx={{
                fontSize: 13,
                color: one.wins ? 'text.primary' : 'ink2',
                fontWeight: one.wins ? 700 : 400,
              }}
            >
              {one.wins ? 'answers' : 'hidden'}
            </Box>
          </Box>
          {(one.archiveId !== data.archiveId || one.index !== data.index) && (
            <Button size="small" onClick={() => onCompare({ ...one, path: data.path })}>
              Compare
            </Button>
          )}
        </Box>
      ))}
      {data.stack.length > 1 && (
        <Box sx={{ fontSize: 12.5, color: 'ink2' }}>The one that is loaded last answers.</Box>
      )}
    </Box>
  );
}
