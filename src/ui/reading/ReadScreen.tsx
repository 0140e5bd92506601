'use client';
import Button from '@mui/material/Button';
import { Blank, Failed, Loading } from '../kit/Blank';
import { PageLink } from '../kit/PageLink';
import { useMod } from '../use-mod';
import { ReadTables } from './ReadTables';
import { useReadingView } from './reading-state';
import { ReadingMod, useReading, useTableOfFile } from './use-reading';

/** All tables of a game, read row by row along what points where, as they are or as a mod has them. */
export function ReadScreen({ gameId }: { gameId: number }) {
  const [view] = useReadingView();
  const { mod, loaded } = useMod(gameId);
  return (
    <ReadingMod value={view.as === 'game' ? undefined : mod?.id}>
      <AllTables {...{ gameId, mod }} isReady={loaded} />
    </ReadingMod>
  );
}

function AllTables({
  gameId,
  mod,
  isReady,
}: {
  gameId: number;
  mod: ReturnType<typeof useMod>['mod'];
  isReady: boolean;
}) {
  const [view, setView] = useReadingView();
  const { data, error } = useReading(gameId, isReady);
  const file = useTableOfFile(gameId, view.file);
  if (error && !data) return <Failed error={error} />;
  if (!data || (view.file !== '' && file.isLoading)) return <Loading what="Reading the tables of the game" />;
  if (data.tables.length === 0)
    return (
      <Blank
        title="No tables"
        action={
          <Button component={PageLink} href={`/games/${gameId}/locks`} variant="contained">
            See what is locked
          </Button>
        }
      >
        Tables are read from CBOR, MessagePack, JSON, YAML, CSV and INI, and from files that a format script
        with a section for tables describes. Some may lie in archives that are not open yet.
      </Blank>
    );
  return (
    <ReadTables {...{ gameId, mod, view }} overview={data} ofFile={file.data?.table ?? ''} onView={setView} />
  );
}
