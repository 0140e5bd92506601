import ViewInArOutlined from '@mui/icons-material/ViewInArOutlined';
import type { MediumUi } from '@/media/medium-ui';
import { ModelLook } from './ModelLook';
import { ModelSide } from './ModelSide';

/** Models on the screens. */
export const modelUi: MediumUi = {
  kind: 'model',
  title: 'Model',
  Icon: ViewInArOutlined,
  Look: ModelLook,
  canLook: ({ look }) => look.sort === 'model',
  Side: ModelSide,
  sidesBeside: true,
};
