import type { Preset } from '@idle-step/core/floor';
import type { Resource } from '@idle-step/contract';
import type { Difference } from '@idle-step/core/edits';
import type { AnyDoc } from '../../api/api';

/** What one document lost when parts of its rig were taken out of it. */
export type Loss = { readonly id: string; readonly difference: Difference };

/** What a step over several documents did, as data, so that it can be taken back and done again. */
export type WholeChange =
  /** Parts of a rig were removed, together with what pointed at them. */
  | {
      readonly kind: 'take-out';
      readonly rigId: string;
      readonly rig: Difference;
      readonly songs: readonly Loss[];
      readonly presets: readonly Loss[];
      /** Presets that went with their board. */
      readonly gone: readonly Preset[];
    }
  /** Documents of another rig came, with gear that they need. */
  | {
      readonly kind: 'take-in';
      readonly rigId: string;
      readonly rig: Difference;
      /** In the order in which they can be made. */
      readonly docs: readonly { readonly resource: 'presets' | 'songs' | 'sets'; readonly doc: AnyDoc }[];
    }
  /** A document was deleted. */
  | {
      readonly kind: 'delete';
      readonly resource: Resource;
      readonly doc: AnyDoc;
      /** Boards on which it was in force, where it is a preset. */
      readonly inForceOn: readonly string[];
    };

/** A step that is more than an edit of one document; undone and redone whole. `order` counts steps over everything. */
export type WholeStep = { readonly label: string; readonly order: number; readonly change: WholeChange };

/** The rig that a step belongs to. */
export const rigOfChange = (change: WholeChange): string =>
  change.kind !== 'delete' ? change.rigId : 'rigId' in change.doc ? change.doc.rigId : change.doc.id;
