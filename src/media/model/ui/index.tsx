import ViewInArOutlined from '@mui/icons-material/ViewInArOutlined';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';
import { AlikeModels } from './AlikeModels';

// What draws them is fetched when one is shown.
const ModelLook = dynamic(() => import('./ModelLook').then((made) => made.ModelLook));
const ModelSide = dynamic(() => import('./ModelSide').then((made) => made.ModelSide));
const Wall = dynamic(() => import('./wall/Wall').then((made) => made.Wall));

/** Models on the screens. */
export const modelUi: MediumUi = {
  kind: 'model',
  title: 'Model',
  Icon: ViewInArOutlined,
  Look: ModelLook,
  canLook: ({ look }) => look.sort === 'model',
  Beside: AlikeModels,
  Side: ModelSide,
  sidesBeside: true,
  Wall,
  shown: [
    ['', 'As a list'],
    ['wall', 'As a wall'],
    ['folder', 'By folder'],
  ],
  asList: '',
};
