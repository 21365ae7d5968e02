import { newPart } from '@/core/design/changes';
import { partValue } from '@/core/design/partValue';
import {
  copied,
  dissolved,
  joinedWithNext,
  movedAlong,
  placed,
  tidied,
} from '@/core/design/arrange';
import type { Design, Group, Part, PartKind, Place, Way } from '@/core/design/schema';
import { stepPreferred, type PreferredSeries } from '@/core/units/preferredSeries';
import type { Desk } from '@/desk/desk';
import type { Selection } from '@/desk/deskState';
import { limitsOf } from './partWords';

/** The series that arrow keys walk along, and the finer one under Alt. */
export const nudgeSeries: { readonly coarse: PreferredSeries; readonly fine: PreferredSeries } = {
  coarse: 'E24',
  fine: 'E96',
};

/** The value that an arrow key makes of a part's value, within its limits. */
export function steppedValue(part: Part, steps: number, isFine: boolean): number {
  const { min, max } = limitsOf[part.kind];
  const stepped = stepPreferred(
    partValue(part),
    isFine ? nudgeSeries.fine : nudgeSeries.coarse,
    steps,
  );
  return Math.min(max, Math.max(min, stepped));
}

const findPart = ({ ways }: Design, id: string) => {
  const way = ways.find(({ parts }) => parts.some((part) => part.id === id));
  const index = way?.parts.findIndex((part) => part.id === id) ?? -1;
  return way ? { way, index, part: way.parts[index] } : null;
};

/** Looks for about a second: a drawing that was not there before needs a moment to know its width. */
const focusTries = 60;

/** Gives the focus to something on the drawing, once it has been drawn again. */
function focusSoon(id: string, triesLeft = focusTries): void {
  setTimeout(
    () => {
      const target = document.querySelector<SVGGElement>(`[data-target="${id}"]`);
      if (target) target.focus();
      else if (triesLeft > 0) focusSoon(id, triesLeft - 1);
    },
    triesLeft === focusTries ? 0 : 16,
  );
}

const shortId = () => crypto.randomUUID().slice(0, 8);

/** What can be done to the network, as it is done by pointer, by key and from the inspector. */
export function createEdits(desk: Desk) {
  const current = () => desk.store.getState().design;

  const add = (wayId: string, index: number, kind: PartKind, place: Place) => {
    const part = newPart(current(), kind, place, `part-${shortId()}`);
    desk.change({ type: 'addPart', wayId, index, part }, `add ${part.name}`);
    desk.select({ kind: 'part', id: part.id });
    focusSoon(part.id);
  };

  return {
    add,

    /** Beside what is chosen: after a part, in a gap, or before a way's driver. */
    addAt(selection: Selection, kind: PartKind, place: Place) {
      if (selection.kind === 'gap') return add(selection.wayId, selection.index, kind, place);
      if (selection.kind === 'way')
        return add(
          selection.id,
          current().ways.find(({ id }) => id === selection.id)?.parts.length ?? 0,
          kind,
          place,
        );
      const found = findPart(current(), selection.id);
      if (found) add(found.way.id, found.index + 1, kind, place);
    },

    nudge(selection: Selection, steps: number, isFine: boolean) {
      const found = selection.kind === 'part' ? findPart(current(), selection.id) : null;
      if (!found || found.part.isLocked || found.part.fit.tie !== null) return;
      const { part } = found;
      desk.change(
        { type: 'setPartValue', id: part.id, value: steppedValue(part, steps, isFine) },
        `set ${part.name}`,
        `value ${part.id}`,
      );
    },

    moveAlong(selection: Selection, direction: 1 | -1) {
      const found = selection.kind === 'part' ? findPart(current(), selection.id) : null;
      const standing = found && movedAlong(found.way, found.part.id, direction);
      if (!standing) return;
      const { part, way } = found;
      desk.change(arrangeWay(way.id, standing), `move ${part.name}`);
      focusSoon(part.id);
    },

    /** Joins a part with what comes after it to a group. */
    joinNext(selection: Selection, join: Group['join']) {
      const found = selection.kind === 'part' ? findPart(current(), selection.id) : null;
      const standing =
        found && joinedWithNext(found.way, found.part.id, join, `group-${shortId()}`);
      if (!standing) return;
      const { part, way } = found;
      desk.change(arrangeWay(way.id, standing), `join ${part.name} in ${join} with the next`);
      focusSoon(part.id);
    },

    /** Takes the innermost group of a part apart. */
    ungroup(selection: Selection) {
      const found = selection.kind === 'part' ? findPart(current(), selection.id) : null;
      const groupId = found?.part.groupId;
      if (!found || !groupId) return;
      const { part, way } = found;
      const standing = tidied(dissolved(way, groupId));
      desk.change(arrangeWay(way.id, standing), `take ${part.name} out of its group`);
      focusSoon(part.id);
    },

    /** Leaves a part out of the prediction, or takes it in again. */
    switchPart(selection: Selection) {
      const part = selection.kind === 'part' ? findPart(current(), selection.id)?.part : null;
      if (part)
        desk.change(
          { type: 'editPart', id: part.id, set: { isOff: !part.isOff } },
          `${part.isOff ? 'take in' : 'leave out'} ${part.name}`,
        );
    },

    lock(selection: Selection) {
      const part = selection.kind === 'part' ? findPart(current(), selection.id)?.part : null;
      if (part)
        desk.change(
          { type: 'editPart', id: part.id, set: { isLocked: !part.isLocked } },
          `${part.isLocked ? 'unlock' : 'lock'} ${part.name}`,
        );
    },

    /** Frees a part for fitting, or holds it. */
    free(selection: Selection) {
      const part = selection.kind === 'part' ? findPart(current(), selection.id)?.part : null;
      if (part)
        desk.change(
          {
            type: 'editPart',
            id: part.id,
            set: { fit: { ...part.fit, isFree: !part.fit.isFree } },
          },
          `${part.fit.isFree ? 'hold' : 'free'} ${part.name}`,
        );
    },

    remove(selection: Selection) {
      if (selection.kind === 'way') {
        const way = current().ways.find(({ id }) => id === selection.id);
        if (way) desk.change({ type: 'removeWay', id: way.id }, `remove ${way.name}`);
        desk.select(null);
        return;
      }
      const found = selection.kind === 'part' ? findPart(current(), selection.id) : null;
      if (!found) return;
      const { part, index, way } = found;
      desk.change({ type: 'removePart', id: part.id }, `remove ${part.name}`);
      const next = way.parts[index + 1] ?? way.parts[index - 1];
      desk.select(next ? { kind: 'part', id: next.id } : { kind: 'way', id: way.id });
      focusSoon(next ? next.id : way.id);
    },

    turn(selection: Selection) {
      const found = selection.kind === 'part' ? findPart(current(), selection.id) : null;
      if (!found) return;
      const { part, way } = found;
      const place = part.place === 'series' ? 'shunt' : 'series';
      desk.change(arrangeWay(way.id, placed(way, part.id, place)), `put ${part.name} in ${place}`);
    },

    /** Another kind of part in the same place; it gets the name and the first value of its kind. */
    replace(partId: string, kind: PartKind) {
      const part = findPart(current(), partId)?.part;
      if (!part || part.kind === kind) return;
      const next = { ...newPart(current(), kind, part.place, part.id), groupId: part.groupId };
      desk.change({ type: 'replacePart', part: next }, `replace ${part.name} by ${next.name}`);
    },

    flip(selection: Selection) {
      const { ways } = current();
      const way =
        selection.kind === 'part'
          ? findPart(current(), selection.id)?.way
          : ways.find(
              ({ id }) => id === (selection.kind === 'way' ? selection.id : selection.wayId),
            );
      if (!way) return;
      const polarity = way.polarity === 'normal' ? 'reversed' : 'normal';
      desk.change(
        { type: 'editWay', id: way.id, set: { polarity } },
        `turn ${way.name} ${polarity === 'reversed' ? 'round' : 'back'}`,
      );
    },

    /** Puts the filter of one way in the place of another's. */
    copyFilter(from: Way, to: Way) {
      const others = current().ways.filter(({ id }) => id !== to.id);
      const used = new Set(others.flatMap(({ parts }) => parts.map(({ name }) => name)));
      const standing = copied(from, used, () => `part-${shortId()}`);
      desk.change(arrangeWay(to.id, standing), `copy the filter of ${from.name} to ${to.name}`);
    },

    /** A rail for a driver, or an empty one. */
    addWay(driver?: { readonly id: string; readonly name: string }) {
      const way = {
        id: `way-${shortId()}`,
        name: driver?.name ?? `Way ${current().ways.length + 1}`,
        driverId: driver?.id ?? null,
        polarity: 'normal' as const,
        parts: [],
        groups: [],
      };
      desk.change({ type: 'addWay', way }, `add ${way.name}`);
      desk.select({ kind: 'way', id: way.id });
      focusSoon(way.id);
    },
  };
}

export type NetworkEdits = ReturnType<typeof createEdits>;
