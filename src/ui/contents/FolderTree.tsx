'use client';
import ChevronRightRounded from '@mui/icons-material/ChevronRightRounded';
import Box from '@mui/material/Box';
import { memo, useMemo, useRef, useState, useEffect } from 'react';
import { Tree, type NodeRendererProps } from 'react-arborist';
import type { FolderView } from '@/server/entries/entries';
import { api } from '../api';
import { bytes, number } from '../format';
import { useFolders } from '../queries';

interface Folder {
  id: string;
  name: string;
  count: number;
  bytes: number;
  hasInner: boolean;
  /** Empty as long as they are still to be asked for. */
  children: Folder[];
}

/** The tree as the server sends it, with what came later put in. */
function treeOf(folder: FolderView, later: ReadonlyMap<string, FolderView>): Folder[] {
  return (folder.inner ?? []).map((one) => {
    const full = one.inner ? one : (later.get(one.path) ?? one);
    return {
      id: one.path,
      name: one.name,
      count: one.count,
      bytes: one.bytes,
      hasInner: one.hasInner,
      children: treeOf(full, later),
    };
  });
}

function Row({ node, style }: NodeRendererProps<Folder>) {
  const { name, count, hasInner } = node.data;
  return (
    <Box
      style={style}
      sx={{
        height: 26,
        display: 'flex',
        alignItems: 'center',
        gap: 0.25,
        pr: 1.5,
        cursor: 'pointer',
        bgcolor: node.isSelected ? 'tint' : 'transparent',
        fontWeight: node.isSelected ? 700 : 400,
        '&:hover': { bgcolor: 'tint' },
      }}
      title={`${node.data.id}, ${bytes(node.data.bytes)}`}
    >
      <ChevronRightRounded
        onClick={(event) => {
          event.stopPropagation();
          node.toggle();
        }}
        sx={{
          fontSize: 18,
          visibility: hasInner ? 'visible' : 'hidden',
          transform: node.isOpen ? 'rotate(90deg)' : 'none',
          color: 'ink2',
        }}
      />
      <Box sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{name}</Box>
      <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{number(count)}</Box>
    </Box>
  );
}

/** The folders of all open archives as one tree, as the game sees them. */
export const FolderTree = memo(function FolderTree({
  gameId,
  chosen,
  onChoose,
}: {
  gameId: number;
  chosen: string;
  onChoose: (folder: string) => void;
}) {
  const { data } = useFolders(gameId);
  const [later, setLater] = useState<ReadonlyMap<string, FolderView>>(new Map());
  const tree = useMemo(() => (data ? treeOf(data, later) : []), [data, later]);
  const total = data?.count ?? 0;
  const fetchInner = (path: string): void => {
    const known = nodeAt(tree, path);
    if (!known?.hasInner || known.children.length > 0) return;
    void api
      .get<FolderView | null>(`games/${gameId}/folders?path=${encodeURIComponent(path)}`)
      .then((folder) => folder && setLater((old) => new Map(old).set(path, folder)));
  };
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 212, height: 400 });
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return (
    <Box sx={{ flex: 1, minHeight: 0, display: 'flex', flexDirection: 'column' }}>
      <Box
        component="button"
        onClick={() => onChoose('')}
        sx={{
          all: 'unset',
          height: 28,
          flexShrink: 0,
          display: 'flex',
          alignItems: 'center',
          px: 1.5,
          cursor: 'pointer',
          fontWeight: chosen === '' ? 700 : 400,
          bgcolor: chosen === '' ? 'tint' : 'transparent',
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      >
        <Box sx={{ flex: 1 }}>Everything</Box>
        <Box sx={{ color: 'ink2', fontSize: 12.5 }}>{number(total)}</Box>
      </Box>
      <Box ref={box} sx={{ flex: 1, minHeight: 0 }}>
        <Tree
          key={tree.length}
          data={tree}
          width={size.width}
          height={size.height}
          rowHeight={26}
          indent={16}
          openByDefault={false}
          initialOpenState={openTo(chosen)}
          {...(chosen && { selection: chosen })}
          disableDrag
          disableDrop
          disableEdit
          disableMultiSelection
          onToggle={fetchInner}
          onActivate={(node) => onChoose(node.data.id)}
          onSelect={([node]) => node && node.data.id !== chosen && onChoose(node.data.id)}
        >
          {Row}
        </Tree>
      </Box>
    </Box>
  );
});

function nodeAt(tree: readonly Folder[], path: string): Folder | undefined {
  const on = tree.find(({ id }) => path.startsWith(id));
  return on && on.id !== path ? nodeAt(on.children, path) : on;
}

/** Every folder above one, to be open at the start. */
function openTo(folder: string): Record<string, boolean> {
  const steps = folder.split('/').filter(Boolean);
  return Object.fromEntries(steps.map((_, i) => [`${steps.slice(0, i + 1).join('/')}/`, true]));
}
