import DescriptionOutlined from '@mui/icons-material/DescriptionOutlined';
import GraphicEqRounded from '@mui/icons-material/GraphicEqRounded';
import ImageOutlined from '@mui/icons-material/ImageOutlined';
import DataArrayRounded from '@mui/icons-material/DataArrayRounded';
import FolderZipOutlined from '@mui/icons-material/FolderZipOutlined';
import MovieOutlined from '@mui/icons-material/MovieOutlined';
import TerminalRounded from '@mui/icons-material/TerminalRounded';
import ViewInArOutlined from '@mui/icons-material/ViewInArOutlined';
import type { JSX } from 'react';

const ICONS: Record<string, typeof ImageOutlined> = {
  picture: ImageOutlined,
  sound: GraphicEqRounded,
  text: DescriptionOutlined,
  film: MovieOutlined,
  model: ViewInArOutlined,
  archive: FolderZipOutlined,
  program: TerminalRounded,
};

const iconOf = (kind: string, Icon: typeof ImageOutlined): JSX.Element => (
  <Icon aria-label={kind} sx={{ fontSize: 18, color: 'ink2' }} />
);

// Each made once, so that rows that keep their kind keep their icon as it is.
const MADE = new Map(Object.entries(ICONS).map(([kind, Icon]) => [kind, iconOf(kind, Icon)]));
const OTHER = iconOf('data', DataArrayRounded);

export const KindIcon = ({ kind }: { kind: string }): JSX.Element => MADE.get(kind) ?? OTHER;
