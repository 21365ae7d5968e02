import { focusSoon } from './focusSoon';
import type { PartId, WayId } from '@/core/fields';
import { newId } from '@/ui/newId';
import { arrangeWay } from '@/core/editing/change';
import { originalOf } from '@/core/editing/mirror';
import { newPart } from '@/core/editing/newPart';
import {
  copied,
  dissolved,
  joinedWithNext,
  movedAcross,
  movedAlong,
  positionOf,
  placed,
  tidied,
} from '@/core/editing/arrange';
import {
  partsOf,
  endAt,
  plainWay,
  type Group,
  type PartKind,
  type Place,
  type Way,
} from '@/core/document/schema';
import type { Desk } from '@/desk/desk';
import type { Selection } from '@/desk/deskState';
import { keepCopy, keptCopy } from './clipboard';
import { steppedValue } from './nudge';
import { behindPosition, bridgeEnds, findOnRail, isMirrored } from './railPlaces';

/** What can be done to the network, as it is done by pointer, by key and from the inspector. */
export function createEdits(desk: Desk) {
  const current = () => desk.store.getState().design;

  const anyPart = (id: string) => partsOf(current()).find((part) => part.id === id);
  const chosenPart = (selection: Selection) =>
    selection.kind === 'part' ? anyPart(selection.id) : undefined;

  const add = (wayId: WayId, index: number, kind: PartKind, place: Place) => {
    const part = newPart(current(), kind, place, newId('part'));
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
      const found = findOnRail(current(), selection.id);
      if (found) add(found.way.id, found.index + 1, kind, place);
    },

    nudge(selection: Selection, steps: number, isFine: boolean) {
      const part = chosenPart(selection);
      if (!part || part.isLocked || (part.fit.tie !== null && !isMirrored(current(), part.id)))
        return;
      desk.change(
        { type: 'setPartValue', id: part.id, value: steppedValue(part, steps, isFine) },
        `set ${part.name}`,
        `value ${part.id}`,
      );
    },

    moveAlong(selection: Selection, direction: 1 | -1) {
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      const contents = found && movedAlong(found.way, found.part.id, direction);
      if (!contents) return;
      const { part, way } = found;
      desk.change(arrangeWay(way.id, contents), `move ${part.name}`);
      focusSoon(part.id);
    },

    /** Moves a part, with its group, to the end of the next rail above or below. */
    moveAcross(selection: Selection, direction: 1 | -1) {
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      if (!found) return;
      const { ways } = current();
      const at = ways.indexOf(found.way) + direction;
      const other = at < 0 ? undefined : ways.at(at);
      const moved = other && movedAcross(found.way, other, found.part.id);
      if (!moved) return;
      const contents = new Map([
        [found.way.id, moved.from],
        [other.id, moved.to],
      ]);
      desk.change({ type: 'arrangeWays', contents }, `move ${found.part.name} to ${other.name}`);
      focusSoon(found.part.id);
    },

    /** Joins a part with what comes after it to a group. */
    joinNext(selection: Selection, join: Group['join']) {
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      const contents = found && joinedWithNext(found.way, found.part.id, join, newId('group'));
      if (!contents) return;
      const { part, way } = found;
      desk.change(arrangeWay(way.id, contents), `join ${part.name} in ${join} with the next`);
      focusSoon(part.id);
    },

    /** Takes the innermost group of a part apart. */
    ungroup(selection: Selection) {
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      const groupId = found?.part.groupId;
      if (!found || !groupId) return;
      const { part, way } = found;
      const contents = tidied(dissolved(way, groupId));
      desk.change(arrangeWay(way.id, contents), `take ${part.name} out of its group`);
      focusSoon(part.id);
    },

    /** Leaves a part out of the prediction, or takes it in again. */
    switchPart(selection: Selection) {
      const part = chosenPart(selection);
      if (part)
        desk.change(
          { type: 'editPart', id: part.id, set: { isOff: !part.isOff } },
          `${part.isOff ? 'include' : 'exclude'} ${part.name}`,
        );
    },

    lock(selection: Selection) {
      const part = chosenPart(selection);
      if (part)
        desk.change(
          { type: 'editPart', id: part.id, set: { isLocked: !part.isLocked } },
          `${part.isLocked ? 'unlock' : 'lock'} ${part.name}`,
        );
    },

    /** Frees a part for fitting, or holds it; for one that mirrors another, that one. */
    free(selection: Selection) {
      const part =
        selection.kind === 'part' ? anyPart(originalOf(current(), selection.id)) : undefined;
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
      const part = chosenPart(selection);
      if (!part) return;
      const found = findOnRail(current(), part.id);
      desk.change({ type: 'removePart', id: part.id }, `remove ${part.name}`);
      if (!found) return desk.select(null);
      const { index, way } = found;
      const next = way.parts[index + 1] ?? way.parts[index - 1];
      desk.select(next ? { kind: 'part', id: next.id } : { kind: 'way', id: way.id });
      focusSoon(next ? next.id : way.id);
    },

    turn(selection: Selection) {
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      if (!found) return;
      const { part, way } = found;
      const place = part.place === 'series' ? 'shunt' : 'series';
      desk.change(arrangeWay(way.id, placed(way, part.id, place)), `put ${part.name} in ${place}`);
    },

    /** Another kind of part in the same place; it gets the name and the first value of its kind. */
    replace(partId: PartId, kind: PartKind) {
      const part = anyPart(partId);
      if (!part || part.kind === kind) return;
      const next = { ...newPart(current(), kind, part.place, part.id), groupId: part.groupId };
      desk.change({ type: 'replacePart', part: next }, `replace ${part.name} by ${next.name}`);
    },

    flip(selection: Selection) {
      const { ways } = current();
      const way =
        selection.kind === 'part'
          ? findOnRail(current(), selection.id)?.way
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
      const contents = copied(from, namesBeside(to), () => newId('part'));
      desk.change(arrangeWay(to.id, contents), `copy the filter of ${from.name} to ${to.name}`);
    },

    /** A rail for a driver, or an empty one. */
    addWay(driver?: { readonly id: string; readonly name: string }) {
      const { ways, terminals } = current();
      const way: Way = {
        ...plainWay,
        id: newId('way'),
        name: driver?.name ?? `Way ${ways.length + 1}`,
        from: { kind: 'terminals', pairId: terminals[0].id },
        ends: driver ? [endAt(driver.id)] : [],
      };
      desk.change({ type: 'addWay', way }, `add ${way.name}`);
      desk.select({ kind: 'way', id: way.id });
      focusSoon(way.id);
    },

    /** A way for each driver, as one step. */
    addWays(drivers: readonly { readonly id: string; readonly name: string }[]) {
      const { terminals } = current();
      const ways = drivers.map(({ id, name }): Way => ({
        ...plainWay,
        id: newId('way'),
        name,
        from: { kind: 'terminals', pairId: terminals[0].id },
        ends: [endAt(id)],
      }));
      desk.change(
        ways.map((way) => ({ type: 'addWay' as const, way })),
        'give each driver its way',
      );
      desk.select({ kind: 'way', id: ways[0].id });
      focusSoon(ways[0].id);
    },

    /**
     * A part between two places: over the chosen part, from the chosen gap to the end, over a whole
     * way.
     */
    addBridge(selection: Selection) {
      const design = current();
      const ends = bridgeEnds(design, selection);
      if (!ends) return;
      const part = newPart(design, 'capacitor', 'series', newId('part'));
      desk.change({ type: 'addBridge', bridge: { part, ...ends } }, `bridge with ${part.name}`);
      desk.select({ kind: 'part', id: part.id });
      focusSoon(part.id);
    },

    /**
     * Another driver at the end of a way: the same model beside the last, which gets a place of its
     * own.
     */
    addTwin(way: Way) {
      const { drivers } = current();
      const last = way.ends.at(-1);
      const model = drivers.find(({ id }) => id === last?.driverId);
      if (!model || !last) return;
      const twin = {
        ...model,
        id: newId('driver'),
        name: `${model.name} ${way.ends.length + 1}`,
        // Beside each other they would be at the same place; below is where a second one usually
        // goes.
        position: { ...model.position, yMm: model.position.yMm - twinBelowMm },
      };
      const twinKey = `twin ${twin.id}`;
      desk.change({ type: 'addDriver', driver: twin }, `add ${twin.name}`, twinKey);
      desk.change(
        {
          type: 'editWay',
          id: way.id,
          set: { ends: [...way.ends, { driverId: twin.id, polarity: last.polarity }] },
        },
        `add ${twin.name}`,
        twinKey,
      );
    },

    swap(partId: PartId, otherId: string) {
      const [part, other] = [anyPart(partId), anyPart(otherId)];
      if (!part || !other) return;
      desk.change(
        { type: 'swapParts', partA: partId, partB: otherId },
        `swap ${part.name} and ${other.name}`,
      );
      focusSoon(partId);
    },

    /** Takes what is chosen along: a part with its group, or all that starts from a way. */
    copy(selection: Selection) {
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      const way = current().ways.find(({ id }) => selection.kind === 'way' && id === selection.id);
      const contents = way ?? (found && positionOf(found.way, found.part.id));
      if (contents) keepCopy({ parts: contents.parts, groups: contents.groups });
    },

    /**
     * Puts what was taken along after the chosen part, into the gap, or in the place of the way's
     * filter.
     */
    paste(selection: Selection) {
      const taken = keptCopy();
      if (!taken) return;
      const { ways } = current();
      if (selection.kind === 'way') {
        const way = ways.find(({ id }) => id === selection.id);
        if (!way) return;
        const contents = copied(taken, namesBeside(way), () => newId('part'));
        desk.change(arrangeWay(way.id, contents), `put a copied filter on ${way.name}`);
        return;
      }
      const found = selection.kind === 'part' ? findOnRail(current(), selection.id) : null;
      const way = ways.find(
        ({ id }) => id === (found?.way.id ?? ('wayId' in selection ? selection.wayId : '')),
      );
      if (!way) return;
      const index = selection.kind === 'gap' ? selection.index : behindPosition(way, selection.id);
      const contents = copied(taken, new Set(partsOf(current()).map(({ name }) => name)), () =>
        newId('part'),
      );
      desk.change(
        arrangeWay(way.id, {
          parts: way.parts.toSpliced(index, 0, ...contents.parts),
          groups: [...way.groups, ...contents.groups],
        }),
        `put a copy on ${way.name}`,
      );
      focusSoon(contents.parts[0].id);
    },
  };

  /** Names of parts that stay when a way gets others. */
  function namesBeside(way: Way): Set<string> {
    const own = new Set(way.parts.map(({ id }) => id));
    return new Set(
      partsOf(current())
        .filter(({ id }) => !own.has(id))
        .map(({ name }) => name),
    );
  }
}

/**
 * Between the middles of two like drivers that are added one after the other, until they are
 * placed.
 */
const twinBelowMm = 200;

export type NetworkEdits = ReturnType<typeof createEdits>;
