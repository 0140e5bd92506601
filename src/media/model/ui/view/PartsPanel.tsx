'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import MenuItem from '@mui/material/MenuItem';
import Select from '@mui/material/Select';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useState } from 'react';
import { number } from '@/ui/format';
import type { ShownForm } from './use-form';
import type { Model } from './use-model';

/** Height of a row in pixels; more rows than these are scrolled. */
const ROW = 28;
const MOST_ROWS = 12;

/** The parts of a model, each shown or left out, and what stands around them. */
export function PartsPanel({
  shown,
  model: { view, change },
}: {
  readonly shown: ShownForm;
  readonly model: Model;
}) {
  const { parts, materials } = shown.form;
  const own = parts.flatMap((part, i) => (part.level === view.level ? [{ part, i }] : []));
  const [list, setList] = useState<HTMLElement | null>(null);
  const rows = useVirtualizer({
    count: own.length,
    getScrollElement: () => list,
    estimateSize: () => ROW,
    overscan: 6,
  });
  const toggle = (i: number): void =>
    change({
      hidden: view.hidden.includes(i) ? view.hidden.filter((one) => one !== i) : [...view.hidden, i],
    });
  return (
    <Box>
      <Box sx={{ display: 'flex', alignItems: 'center', mb: 0.5 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Parts
        </Typography>
        {own.length > 1 && (
          <Button
            size="small"
            onClick={() => change({ hidden: view.hidden.length > 0 ? [] : own.map(({ i }) => i) })}
          >
            {view.hidden.length > 0 ? 'Show all' : 'Show none'}
          </Button>
        )}
      </Box>
      <Box ref={setList} sx={{ maxHeight: MOST_ROWS * ROW, overflow: 'auto' }}>
        <Box sx={{ position: 'relative', height: rows.getTotalSize() }}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const { part, i } = own[index]!;
            return (
              <Box
                key={i}
                sx={{
                  position: 'absolute',
                  insetInline: 0,
                  height: ROW,
                  display: 'flex',
                  alignItems: 'center',
                }}
                style={{ top: start }}
              >
                <FormControlLabel
                  sx={{
                    flex: 1,
                    minWidth: 0,
                    mr: 1,
                    ml: 0,
                    '& .MuiFormControlLabel-label': {
                      overflow: 'hidden',
                      textOverflow: 'ellipsis',
                      whiteSpace: 'nowrap',
                    },
                  }}
                  control={
                    <Checkbox
                      size="small"
                      sx={{ p: 0.4 }}
                      checked={!view.hidden.includes(i)}
                      onChange={() => toggle(i)}
                    />
                  }
                  label={part.name}
                  title={`${part.name}${materials[part.material] ? `, ${materials[part.material]!.name}` : ''}`}
                />
                <Box sx={{ color: 'ink2', fontSize: 12.5, whiteSpace: 'nowrap' }}>
                  {number(part.triangles)}
                </Box>
              </Box>
            );
          })}
        </Box>
      </Box>
      <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1, mt: 0.5 }}>
        {(
          [
            ['showsBox', 'Box'],
            ['showsGround', 'Ground'],
            ...(shown.form.bones.length > 0 ? [['showsBones', 'Bones'] as const] : []),
          ] as const
        ).map(([key, label]) => (
          <FormControlLabel
            key={key}
            control={
              <Checkbox
                size="small"
                sx={{ p: 0.4 }}
                checked={view[key]}
                onChange={() => change({ [key]: !view[key] })}
              />
            }
            label={label}
          />
        ))}
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mt: 0.5 }}>
        <Box sx={{ color: 'ink2' }}>Light</Box>
        <Slider
          size="small"
          aria-label="Light"
          min={0.2}
          max={2}
          step={0.1}
          value={view.light}
          onChange={(_event, light) => change({ light: light as number })}
        />
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mt: 0.5 }}>
        <Box sx={{ color: 'ink2' }}>Background</Box>
        <Select
          size="small"
          value={view.background}
          onChange={({ target }) => change({ background: target.value })}
          inputProps={{ 'aria-label': 'Background' }}
        >
          {(['page', 'white', 'grey', 'black'] as const).map((one) => (
            <MenuItem key={one} value={one}>
              {one === 'page' ? 'as the page' : one}
            </MenuItem>
          ))}
        </Select>
      </Box>
    </Box>
  );
}
