import type SvgIcon from '@mui/material/SvgIcon';
import type { ComponentType } from 'react';
import type { Kind } from '@/core/kinds';
import type { EntryDetail } from '@/server/looking/preview';
import type { Look } from './look';
import type { Run } from '@/core/catalogue';
import type { ListProps } from '@/ui/contents/EntryList';
import type { Entries, EntryItem } from '@/ui/contents/use-entries';

/** What of a change a look needs to know. */
export interface ChangedEntry {
  readonly id: number;
  readonly modId: number;
  readonly stamp: string;
  /** Bytes of what will be written; null while it does not fit. */
  readonly preparedSize: number | null;
}

/** An entry that is looked at, as it is or as a mod will have it. */
export interface LookProps {
  readonly gameId: number;
  readonly data: EntryDetail;
  /** Address of the entry, or of the change, without a slash at its end. */
  readonly url: string;
  /** Part of a query that changes with the bytes. */
  readonly version: string;
  /** Set where it is shown as a mod will have it. */
  readonly changed: ChangedEntry | undefined;
  /** What unsaved edits are kept under; undefined where it is not edited here. */
  readonly draftKey: string | undefined;
  readonly onSave: (text: string, draftKey: string) => void;
  readonly saving: boolean;
}

/** One side of a change, before or after. */
export interface SideProps {
  /** Address of the entry or change, without a slash at its end. */
  readonly url: string;
  readonly stamp: string;
  /** What it is, for those who do not see it. */
  readonly label: string;
  /** What it is called beside the other side. */
  readonly title: string;
  readonly path: string;
  /** The other side, where the two are looked at together; null where that is not there yet, undefined where there is one side only. */
  readonly against?: { readonly url: string; readonly title: string } | null | undefined;
}

/** Many entries at once, in place of their list. */
export interface WallProps extends ListProps {
  /** How they are put together. */
  readonly group: string;
  readonly folder: string;
  readonly search: string;
  /** The entry that is looked at, as it stands in the address. */
  readonly chosen: string;
  readonly runs: readonly Run[] | undefined;
  readonly onColumns: (columns: number) => void;
  readonly onShow: (archiveId: number, index: number) => void;
}

/** Entries that are gone through, one after the other. */
export interface ThroughProps {
  readonly gameId: number;
  readonly entries: Entries;
  /** The place of the one that is chosen; -1 for none. */
  readonly selected: number;
  readonly onSelect: (index: number) => void;
}

/** What stands beside an entry that is looked at. */
export interface BesideProps {
  readonly gameId: number;
  readonly data: EntryDetail;
  readonly onShow: (archiveId: number, index: number) => void;
}

/** Entries of the medium that are picked. */
export interface PickedProps {
  readonly gameId: number;
  readonly items: readonly EntryItem[];
}

/** What a medium has for the screens. */
export interface MediumUi {
  readonly kind: Kind;
  /** One of them, as it stands before what its head tells; undefined where there is no such line. */
  readonly title?: string;
  readonly Icon: typeof SvgIcon;
  /** The thing itself, in the inspector; where there is none its bytes are shown. */
  readonly Look?: ComponentType<LookProps>;
  /** Whether that can show an entry; it can where nothing is said. */
  readonly canLook?: (data: EntryDetail) => boolean;
  /** Whether it shows a change that does not fit yet. */
  readonly looksUnfit?: boolean;
  /** What a look tells besides its head, in words. */
  readonly more?: (look: Look) => readonly string[];
  /** Under which address of an entry it is saved by one press, and with which ending; its plain bytes where nothing is said. */
  readonly saved?: { readonly address: string; readonly ending: string };
  /** Under which address of an entry a small picture of it stands; undefined where it has none. */
  readonly glance?: string;
  readonly Side?: ComponentType<SideProps>;
  /** Sides stand beside each other, not below. */
  readonly sidesBeside?: boolean;
  /** Whether what a change of it says differently may be told in words. */
  readonly isToldInWords?: boolean;
  /** What belongs to it, below its facts. */
  readonly Beside?: ComponentType<BesideProps>;
  /** What can be done with several of them at once. */
  readonly Picked?: ComponentType<PickedProps>;
  /** Goes through the list from one to the next. */
  readonly Through?: ComponentType<ThroughProps>;
  /** A way to see many at once in place of the list. */
  readonly Wall?: ComponentType<WallProps>;
  /** How those of a list may be shown, with their wall: by the word that stands in the address, the one that is meant without any first. */
  readonly shown?: readonly (readonly [word: string, title: string])[];
  /** Among those, where they are shown as a list. */
  readonly asList?: string;
}
