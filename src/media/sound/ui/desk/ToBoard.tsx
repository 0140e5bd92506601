'use client';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useRouter } from 'next/navigation';
import { enqueueSnackbar } from 'notistack';
import { useState } from 'react';
import { freeKey, type BoardSort, type PadContent, type StripContent } from '@/media/sound/core/board';
import { tellWith } from '@/ui/kit/tell-with';
import { nameOf } from '@/ui/format';
import { addBoard, useAddClip, useBoards } from './use-boards';

/** A sound, or a stretch of it, as boards hold it. */
export interface ClipOf {
  readonly game: number;
  readonly archive: string;
  readonly path: string;
  readonly from?: number | undefined;
  readonly to?: number | undefined;
}

const WORDS = {
  strip: { to: 'To a strip…', fresh: 'A new strip' },
  pad: { to: 'To a pad…', fresh: 'A new pad' },
} as const;

/** Puts sounds, or what is marked of one, on a strip or a pad. */
export function ToBoard({ sort, clips }: { sort: BoardSort; clips: readonly ClipOf[] }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const { data: boards = [] } = useBoards();
  const router = useRouter();
  const own = boards.filter((board) => board.sort === sort);
  const add = useAddClip<StripContent | PadContent>(
    (content) => withClips(sort, content, clips),
    ({ id, title }) =>
      tellWith(
        clips.length === 1
          ? `${nameOf(clips[0]!.path)} is on ${title}.`
          : `${clips.length} sounds are on ${title}.`,
        'Show',
        () => router.push(`/sound-desk?board=${id}`),
      ),
  );
  const put = (id: number): void => {
    setAnchor(null);
    add.mutate(id);
  };
  const putOnNew = async (): Promise<void> => {
    setAnchor(null);
    try {
      put((await addBoard(sort, `${WORDS[sort].fresh.slice(2)} ${own.length + 1}`)).id);
    } catch (error) {
      enqueueSnackbar((error as Error).message, { variant: 'error' });
    }
  };
  return (
    <>
      <Button size="small" loading={add.isPending} onClick={({ currentTarget }) => setAnchor(currentTarget)}>
        {WORDS[sort].to}
      </Button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        {own.map(({ id, title, count }) => (
          <MenuItem key={id} onClick={() => put(id)}>
            {title}, {count} {count === 1 ? 'clip' : 'clips'}
          </MenuItem>
        ))}
        {own.length > 0 && <Divider />}
        <MenuItem onClick={() => void putOnNew()}>{WORDS[sort].fresh}</MenuItem>
      </Menu>
    </>
  );
}

function withClips(
  sort: BoardSort,
  content: StripContent | PadContent,
  fresh: readonly ClipOf[],
): StripContent | PadContent {
  if (sort === 'strip') {
    const { clips } = content as StripContent;
    return { clips: [...clips, ...fresh.map((one) => ({ ...one, gain: 0, gap: 0, fadeIn: 0, fadeOut: 0 }))] };
  }
  const clips = [...(content as PadContent).clips];
  for (const one of fresh) {
    const key = freeKey(clips);
    if (key === undefined)
      throw new Error('This pad has not as many free keys. Take clips off, or choose another pad.');
    clips.push({ ...one, gain: 0, key, label: nameOf(one.path).replace(/\.[^.]*$/, '') });
  }
  return { clips };
}
