'use client';
import Box from '@mui/material/Box';
import { useQuery } from '@tanstack/react-query';
import type { WorkerView } from '@/server/running/workers/registry';
import { api } from '../api';
import { plural } from '../format';
import { StateMark } from '../kit/StateMark';
import { sheet } from '../kit/Screen';

const EVERY_MS = 3000;

function stateOf({
  isSilent,
  blind,
  batches,
}: WorkerView): readonly ['bad' | 'look' | 'good' | 'mute', string] {
  if (isSilent) return ['bad', 'silent'];
  if (blind.length > 0) return ['look', 'does not see all'];
  return batches > 0 ? ['good', `has ${plural(batches, 'batch', 'batches')}`] : ['mute', 'free'];
}

/** Who does the work, told where there is more to say than that one worker does it. */
export function Workers() {
  const { data: workers } = useQuery({
    queryKey: ['workers'],
    queryFn: () => api.get<WorkerView[]>('workers'),
    refetchInterval: EVERY_MS,
  });
  if (!workers) return null;
  if (workers.length === 0)
    return (
      <Box role="alert" sx={{ color: 'bad', mb: 1.5 }}>
        No worker runs, so that nothing that waits will begin. bin/start runs one; bin/worker adds others.
      </Box>
    );
  if (workers.length === 1 && stateOf(workers[0]!)[0] !== 'look' && !workers[0]!.isSilent) return null;
  return (
    <Box role="list" aria-label="Workers" sx={{ ...sheet, mb: 1.5, fontSize: 13 }}>
      {workers.map((worker) => {
        const [tone, words] = stateOf(worker);
        return (
          <Box key={worker.id} role="listitem" sx={{ px: 2, py: 0.75 }}>
            <Box sx={{ display: 'flex', gap: 1 }}>
              <Box sx={{ flex: 1, overflowWrap: 'anywhere' }}>
                Worker on {worker.title}, {plural(worker.threads, 'thread')}
              </Box>
              <StateMark tone={tone}>{words}</StateMark>
            </Box>
            {worker.blind.map((note) => (
              <Box key={note} sx={{ color: 'look', overflowWrap: 'anywhere' }}>
                {note}.
              </Box>
            ))}
          </Box>
        );
      })}
    </Box>
  );
}
