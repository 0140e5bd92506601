import { z } from 'zod';
import { checkOutputFolder } from '@/server/recipes/output-folder';
import { modRow } from '@/server/mods/mods';
import { presentGame } from '@/server/games/games';
import { enqueue, JOB_INPUTS } from '@/server/running/jobs';
import { GameParams, route } from '@/app/api/route-kit';

const Asked = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('scan') }),
  JOB_INPUTS.extract.omit({ gameId: true }).extend({ kind: z.literal('extract') }),
  JOB_INPUTS['find-key'].omit({ gameId: true }).extend({ kind: z.literal('find-key') }),
  JOB_INPUTS['try-names'].omit({ gameId: true }).extend({ kind: z.literal('try-names') }),
  JOB_INPUTS['search-inside'].omit({ gameId: true }).extend({ kind: z.literal('search-inside') }),
  z.object({ kind: z.literal('learn-names') }),
  JOB_INPUTS['group-looks'].omit({ gameId: true }).extend({ kind: z.literal('group-looks') }),
  JOB_INPUTS['find-alike'].omit({ gameId: true }).extend({ kind: z.literal('find-alike') }),
  JOB_INPUTS.build.omit({ gameId: true }).extend({ kind: z.literal('build') }),
  JOB_INPUTS.install.omit({ gameId: true }).extend({ kind: z.literal('install') }),
  JOB_INPUTS['weigh-ways'].omit({ gameId: true }).extend({ kind: z.literal('weigh-ways') }),
  JOB_INPUTS['write-build'].omit({ gameId: true }).extend({ kind: z.literal('write-build') }),
  JOB_INPUTS['take-out'].omit({ gameId: true }).extend({ kind: z.literal('take-out') }),
  JOB_INPUTS.restore.omit({ gameId: true }).extend({ kind: z.literal('restore') }),
  JOB_INPUTS.trial.omit({ gameId: true }).extend({ kind: z.literal('trial') }),
  JOB_INPUTS['make-film'].omit({ gameId: true }).extend({ kind: z.literal('make-film') }),
]);

export const POST = route(GameParams, async ({ params, body }) => {
  const asked = await body(Asked);
  const game = await presentGame(params.game);
  const gameId = game.id;
  switch (asked.kind) {
    case 'make-film': {
      const { modId, archiveId, index, wish } = asked;
      await modRow(gameId, modId);
      return enqueue('make-film', `Make a film of ${wish.name}`, { gameId, modId, archiveId, index, wish });
    }
    case 'scan':
      return enqueue('scan', `Scan ${game.title}`, { gameId });
    case 'extract':
      await checkOutputFolder(asked.folder);
      return enqueue('extract', `Extract ${asked.entries.length} to ${asked.folder}`, {
        gameId,
        entries: asked.entries,
        folder: asked.folder,
        convert: asked.convert,
      });
    case 'find-key': {
      const { archiveId, program, all } = asked;
      return enqueue('find-key', `Look for the key in ${program}`, { gameId, archiveId, program, all });
    }
    case 'try-names':
      return enqueue('try-names', 'Try names', { gameId, pattern: asked.pattern });
    case 'learn-names':
      return enqueue('learn-names', `Learn names from ${game.title}`, { gameId });
    case 'search-inside': {
      const { text, hex, hash, folder, search } = asked;
      return enqueue('search-inside', `Search inside for ${text || hex}`, {
        gameId,
        text,
        hex,
        hash,
        folder,
        search,
      });
    }
    case 'group-looks': {
      const { folder, search } = asked;
      return enqueue('group-looks', 'Put pictures together that look alike', { gameId, folder, search });
    }
    case 'find-alike': {
      const { archiveId, index } = asked;
      return enqueue('find-alike', 'Look for pictures that look alike', { gameId, archiveId, index });
    }
    case 'build':
      return enqueue('build', 'Build the mod', {
        gameId,
        modId: asked.modId,
        way: asked.way,
        keepDamaged: asked.keepDamaged,
      });
    case 'weigh-ways':
      return enqueue('weigh-ways', 'Compare the ways to build', { gameId, modId: asked.modId });
    case 'write-build': {
      const { buildId, folder } = asked;
      await checkOutputFolder(folder);
      return enqueue('write-build', `Write the build to ${folder}`, { gameId, buildId, folder });
    }
    case 'take-out':
      return enqueue('take-out', `Take a mod out of ${game.title}`, { gameId, modId: asked.modId });
    case 'install':
      return enqueue('install', `Install into ${game.title}`, { gameId, buildId: asked.buildId });
    case 'restore':
      return enqueue('restore', `Restore ${game.title}`, { gameId, changed: asked.changed });
    case 'trial':
      return enqueue('trial', `Try ${game.title}`, { gameId, tongue: asked.tongue });
  }
});
