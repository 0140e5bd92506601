import TableChartOutlined from '@mui/icons-material/TableChartOutlined';
import dynamic from 'next/dynamic';
import type { MediumUi } from '@/media/medium-ui';

const TableLook = dynamic(() => import('./TableLook').then((made) => made.TableLook));

/** Tables on the screens. */
export const tableUi: MediumUi = {
  kind: 'table',
  title: 'Table',
  Icon: TableChartOutlined,
  Look: TableLook,
  isToldInWords: true,
};
