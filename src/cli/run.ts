import { Command, CommanderError, Option } from 'commander';
import { FormatError } from '@/core/bytes';
import { WAYS } from '@/core/mod';
import type { Output } from './commands';
import { UsageError } from './usage-error';

const collect = (value: string, before: string[]): string[] => [...before, value];

function opening(command: Command, first?: readonly [string, string]): Command {
  return (first ? command.argument(...first) : command)
    .argument(
      '<archive...>',
      first
        ? 'archives, or folders with them'
        : 'one or more archives; OUTER//ENTRY is an archive inside another',
    )
    .option(
      '--script <file>',
      'format script; otherwise the shipped script that knows the file. For OUTER//ENTRY the last is for the entry',
      collect,
      [],
    )
    .option('--key <name=hex>', 'a key, as NAME=HEX', collect, [])
    .option('--file <name=file>', 'a file of the archive that lies elsewhere, as NAME=FILE', collect, [])
    .option('--set <name=value>', 'a parameter of the script, as NAME=VALUE', collect, [])
    .option('--names <file>', 'list of paths, one a line, for hashed names', collect, []);
}

/** Runs the command line and returns the exit code: 0 good, 1 archive or script wrong, 2 wrong usage. */
export async function run(args: readonly string[], output: Output): Promise<number> {
  let code = 0;
  const program = new Command('latch')
    .description('Lists, extracts, repacks and proves game archives by format scripts.')
    .exitOverride()
    .configureOutput({
      writeOut: (text) => output.out(text.trimEnd()),
      writeErr: (text) => output.complain(text.trimEnd()),
    });
  opening(program.command('entries'))
    .description('list the entries')
    .option('--json', 'a JSON line an entry')
    .action(
      async (paths, options) =>
        void (code = await (await import('./commands')).listEntries(paths, options, output)),
    );
  opening(program.command('extract'))
    .description('write entries below a folder')
    .requiredOption('--to <dir>', 'the folder')
    .option('--match <glob>', 'only paths that match', collect, [])
    .option('--stored', 'the bytes as they lie in the archive')
    .option('--overwrite', 'files that are there already are replaced')
    .option('--json', 'a JSON line an entry')
    .action(
      async (paths, options) =>
        void (code = await (await import('./extract')).extract(paths, options, output)),
    );
  opening(program.command('repack'))
    .description('write an archive with changed entries')
    .option('--change <path=file>', 'what an entry becomes; #INDEX=FILE for namesakes', collect, [])
    .option('--add <path=file>', 'an entry that the archive does not have yet', collect, [])
    .option('--remove <path>', 'an entry that is taken out; #INDEX for namesakes', collect, [])
    .requiredOption('--to <out>', 'the new file, or a folder for several archives')
    .addOption(
      new Option('--way <way>', 'what happens to the places of entries that stay as they are')
        .choices(WAYS)
        .default('shifted'),
    )
    .option('--keep-damaged', 'carry on entries that were damaged before, as they are')
    .option('--look-through', 'look for such damage however many bytes the entries that stay have')
    .action(
      async (paths: string[], options) =>
        void (code = (await import('./repack')).repack(paths, options, output)),
    );
  opening(program.command('prove'))
    .description('prove that the script describes the archive in both directions')
    .option('--json', 'the proof as JSON')
    .action(
      async (paths, options) =>
        void (code = await (await import('./commands')).prove(paths, options, output)),
    );
  opening(program.command('explain'))
    .description('say of every field where it lies and what is in it, and what nothing explains')
    .option('--most <count>', 'items of each list', '8')
    .option('--json', 'a JSON line a field')
    .action(
      async (paths: string[], options) =>
        void (code = (await import('./explain')).explain(paths, options, output)),
    );
  opening(program.command('run'), ['<recipe>', 'a recipe that was exported, as a file'])
    .description('run a recipe: write what is new or changed, and keep what somebody edited')
    .option('--to <dir>', 'the folder; otherwise the one that the recipe names')
    .option('--json', 'a JSON line a file')
    .action(
      async (recipe: string, paths: string[], options) =>
        void (code = await (await import('./run-recipe')).runRecipe(recipe, paths, options, output)),
    );
  program
    .command('find-key')
    .description('look for the key of a locked archive in a program')
    .argument('<program>', 'the program that opens the archive')
    .argument('<archive>', 'the locked archive')
    .option('--script <file>', 'format script; otherwise the shipped script that knows the file')
    .option('--all', 'every key, instead of the first')
    .option('--json', 'a JSON line a key')
    .action(
      async (file: string, archive: string, options) =>
        void (code = (await import('./find-key')).findKey(file, archive, options, output)),
    );
  program
    .command('check-script')
    .description('check the text of format scripts')
    .argument('<script...>', 'one or more scripts')
    .action(async (paths: string[]) => void (code = (await import('./commands')).checkScript(paths, output)));
  try {
    await program.parseAsync(args, { from: 'user' });
    return code;
  } catch (error) {
    return exitCodeFor(error, output);
  }
}

function exitCodeFor(error: unknown, output: Output): number {
  if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
  if (error instanceof UsageError) {
    output.complain(error.message);
    return 2;
  }
  if (error instanceof FormatError) {
    output.complain(error.message);
    return 1;
  }
  const { code } = error as NodeJS.ErrnoException;
  if (typeof code === 'string') {
    output.complain(systemMessage(error as NodeJS.ErrnoException));
    return 1;
  }
  throw error;
}

function systemMessage(error: NodeJS.ErrnoException): string {
  if (error.code === 'ENOSPC')
    return `The disk is full${error.path ? ` at ${error.path}` : ''}. Nothing half-written was kept. Make room and run it again.`;
  if (error.code === 'EACCES') return `${error.path ?? 'The file'} may not be read or written by this user.`;
  return error.message;
}
