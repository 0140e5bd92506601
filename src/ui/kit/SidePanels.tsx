'use client';
import ChevronLeftRounded from '@mui/icons-material/ChevronLeftRounded';
import ChevronRightRounded from '@mui/icons-material/ChevronRightRounded';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useRef, useState, type ReactNode } from 'react';
import { Panel, PanelGroup, PanelResizeHandle, type ImperativePanelHandle } from 'react-resizable-panels';

/** Shares of the width, in percent. */
const SIZES = { left: 17, right: 29, leastLeft: 10, leastRight: 20 };

/**
 * A middle between two panels, each of which can be drawn wider, folded away and back; the browser remembers how. The bars between them are
 * moved by the mouse or, once they have the focus, by the arrow keys.
 */
export function SidePanels({
  id,
  left,
  leftTitle,
  right,
  rightTitle,
  children,
}: {
  id: string;
  left: ReactNode;
  leftTitle: string;
  right: ReactNode;
  rightTitle: string;
  children: ReactNode;
}) {
  const leftPanel = useRef<ImperativePanelHandle>(null);
  const rightPanel = useRef<ImperativePanelHandle>(null);
  const [folded, setFolded] = useState({ left: false, right: false });
  const turn = (panel: ImperativePanelHandle | null): void =>
    panel?.isCollapsed() ? panel.expand() : panel?.collapse();
  return (
    <PanelGroup direction="horizontal" autoSaveId={id}>
      <Panel
        ref={leftPanel}
        id={`${id}-left`}
        order={1}
        collapsible
        defaultSize={SIZES.left}
        minSize={SIZES.leastLeft}
        onCollapse={() => setFolded((old) => ({ ...old, left: true }))}
        onExpand={() => setFolded((old) => ({ ...old, left: false }))}
      >
        {left}
      </Panel>
      <Bar title={leftTitle} isFolded={folded.left} side="left" onTurn={() => turn(leftPanel.current)} />
      <Panel id={`${id}-middle`} order={2} minSize={25}>
        {children}
      </Panel>
      <Bar title={rightTitle} isFolded={folded.right} side="right" onTurn={() => turn(rightPanel.current)} />
      <Panel
        ref={rightPanel}
        id={`${id}-right`}
        order={3}
        collapsible
        defaultSize={SIZES.right}
        minSize={SIZES.leastRight}
        onCollapse={() => setFolded((old) => ({ ...old, right: true }))}
        onExpand={() => setFolded((old) => ({ ...old, right: false }))}
      >
        {right}
      </Panel>
    </PanelGroup>
  );
}

function Bar({
  title,
  isFolded,
  side,
  onTurn,
}: {
  title: string;
  isFolded: boolean;
  side: 'left' | 'right';
  onTurn: () => void;
}) {
  const pointsLeft = (side === 'left') !== isFolded;
  const Icon = pointsLeft ? ChevronLeftRounded : ChevronRightRounded;
  const what = `${isFolded ? 'Unfold' : 'Fold'} ${title}`;
  return (
    <Box sx={{ position: 'relative', display: 'flex', width: isFolded ? 18 : 6, flexShrink: 0 }}>
      <Box
        component={PanelResizeHandle}
        aria-label={`Width of ${title}`}
        sx={{
          width: 6,
          bgcolor: 'line',
          '&:hover, &[data-resize-handle-state=drag]': { bgcolor: 'brass' },
          '&:focus-visible': { outline: '2px solid', outlineColor: 'brass' },
        }}
      />
      <Tooltip title={what}>
        <IconButton
          size="small"
          aria-label={what}
          onClick={onTurn}
          sx={{
            position: 'absolute',
            top: 6,
            [side]: isFolded ? 0 : -2,
            zIndex: 2,
            p: 0,
            width: 18,
            height: 30,
            borderRadius: 0.5,
            bgcolor: 'panel',
            border: 1,
            borderColor: 'line',
          }}
        >
          <Icon sx={{ fontSize: 16 }} />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
