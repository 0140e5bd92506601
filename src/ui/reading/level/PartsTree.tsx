'use client';
import ChevronRightRounded from '@mui/icons-material/ChevronRightRounded';
import Box from '@mui/material/Box';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Tree, type NodeRendererProps, type TreeApi } from 'react-arborist';
import type { PartView } from '@/server/reading/level-view';

interface Props {
  readonly parts: readonly PartView[];
  /** Those are shown whose name has it. */
  readonly text: string;
  readonly chosen: number | undefined;
  readonly onChoose: (part: number) => void;
}

interface Node {
  readonly id: string;
  readonly title: string;
  readonly stop: string | null;
  /** None for what holds nothing, so that it cannot be opened. */
  children?: Node[];
}

function treeOf(parts: readonly PartView[]): Node[] {
  const nodes = parts.map(({ title, stop }, i): Node => ({ id: String(i), title, stop }));
  const firsts: Node[] = [];
  for (const [i, { parent }] of parts.entries()) {
    const above = nodes[parent];
    (above ? (above.children ??= []) : firsts).push(nodes[i]!);
  }
  return firsts;
}

function PartRow({ node, style }: NodeRendererProps<Node>) {
  const { title, stop } = node.data;
  return (
    <Box
      style={style}
      title={stop ? `${title}: ${stop}` : title}
      // One of them is reached by Tab; arrows go on from there.
      tabIndex={node.isSelected || (node.rowIndex === 0 && node.tree.hasNoSelection) ? 0 : -1}
      sx={{
        ...{ height: 26, display: 'flex', alignItems: 'center', gap: 0.25, pr: 1, cursor: 'pointer' },
        bgcolor: node.isSelected ? 'tint' : 'transparent',
        fontWeight: node.isSelected ? 700 : 400,
        '&:hover': { bgcolor: 'tint' },
      }}
    >
      <ChevronRightRounded
        onClick={(event) => {
          event.stopPropagation();
          node.toggle();
        }}
        sx={{
          ...{ fontSize: 18, color: 'ink2', visibility: node.isLeaf ? 'hidden' : 'visible' },
          transform: node.isOpen ? 'rotate(90deg)' : 'none',
        }}
      />
      <Box sx={{ flex: 1, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap', fontSize: 14 }}>
        {title}
      </Box>
      {stop && <Box sx={{ color: 'ink2', fontSize: 12 }}>{stop}</Box>}
    </Box>
  );
}

/** The parts of a level by what they hang on and are within. */
export function PartsTree({ parts, text, chosen, onChoose }: Props) {
  const data = useMemo(() => treeOf(parts), [parts]);
  const tree = useRef<TreeApi<Node>>(undefined);
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 270, height: 400 });
  useEffect(() => {
    const watched = new ResizeObserver(([entry]) => {
      if (entry) setSize({ width: entry.contentRect.width, height: entry.contentRect.height });
    });
    watched.observe(box.current!);
    return () => watched.disconnect();
  }, []);
  useEffect(() => {
    if (chosen === undefined) return;
    tree.current?.openParents(String(chosen));
    tree.current?.select(String(chosen), { focus: false });
    void tree.current?.scrollTo(String(chosen), 'smart');
  }, [chosen]);
  return (
    <Box
      ref={box}
      component="nav"
      aria-label="Parts"
      sx={{ borderRight: 1, borderColor: 'line', minHeight: 0, overflow: 'hidden' }}
    >
      <Tree
        ref={tree}
        data={data}
        width={size.width}
        height={size.height}
        rowHeight={26}
        indent={14}
        openByDefault={parts.length <= 200}
        disableDrag
        disableEdit
        disableMultiSelection
        searchTerm={text}
        searchMatch={(node, term) =>
          node.data.title.toLocaleLowerCase().includes(term.trim().toLocaleLowerCase())
        }
        onActivate={(node) => onChoose(Number(node.id))}
        onSelect={([node]) => {
          if (node && Number(node.id) !== chosen) onChoose(Number(node.id));
        }}
      >
        {PartRow}
      </Tree>
    </Box>
  );
}
