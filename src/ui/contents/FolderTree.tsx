'use client';
import ChevronRightRounded from '@mui/icons-material/ChevronRightRounded';
import Box from '@mui/material/Box';
import { useMemo, useRef, useState, useEffect } from 'react';
import { Tree, type NodeRendererProps } from 'react-arborist';
import { number } from '../format';
import { useFolders } from '../queries';

interface Folder {
  id: string;
  name: string;
  count: number;
  children: Folder[];
}

/** A tree out of the flat list of folders, counts added up to the top. */
function treeOf(rows: readonly { folder: string; count: number }[]): Folder[] {
  const root: Folder = { id: '', name: '', count: 0, children: [] };
  const byId = new Map<string, Folder>([['', root]]);
  for (const { folder, count } of rows) {
    let at = root;
    at.count += count;
    for (const step of folder.split('/').filter(Boolean)) {
      const id = `${at.id}${step}/`;
      let next = byId.get(id);
      if (!next) {
        next = { id, name: step, count: 0, children: [] };
        byId.set(id, next);
        at.children.push(next);
      }
      next.count += count;
      at = next;
    }
  }
  return root.children;
}

function Row({ node, style }: NodeRendererProps<Folder>) {
  const { name, count, children } = node.data;
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
      title={node.data.id}
    >
      <ChevronRightRounded
        onClick={(event) => {
          event.stopPropagation();
          node.toggle();
        }}
        sx={{
          fontSize: 18,
          visibility: children.length > 0 ? 'visible' : 'hidden',
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
export function FolderTree({
  gameId,
  chosen,
  onChoose,
}: {
  gameId: number;
  chosen: string;
  onChoose: (folder: string) => void;
}) {
  const { data = [] } = useFolders(gameId);
  const tree = useMemo(() => treeOf(data), [data]);
  const total = useMemo(() => data.reduce((sum, { count }) => sum + count, 0), [data]);
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
    <Box
      component="nav"
      aria-label="Folders"
      sx={{
        width: 214,
        flexShrink: 0,
        borderRight: 1,
        borderColor: 'line',
        bgcolor: 'panel',
        display: 'flex',
        flexDirection: 'column',
        pt: 1,
      }}
    >
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
          onActivate={(node) => onChoose(node.data.id)}
          onSelect={([node]) => node && node.data.id !== chosen && onChoose(node.data.id)}
        >
          {Row}
        </Tree>
      </Box>
    </Box>
  );
}

/** Every folder above one, to be open at the start. */
function openTo(folder: string): Record<string, boolean> {
  const steps = folder.split('/').filter(Boolean);
  return Object.fromEntries(steps.map((_, i) => [`${steps.slice(0, i + 1).join('/')}/`, true]));
}
