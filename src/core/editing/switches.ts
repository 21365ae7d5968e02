import {
  hasLoss,
  hasStatedLoss,
  partLoss,
  partValue,
  withPartValue,
  withStatedLoss,
} from '@/core/document/partKinds';
import {
  partsOf,
  type Design,
  type DesignSwitch,
  type SwitchSetting,
} from '@/core/document/schema';

/** How something is in the document now, as a setting of a switch; null when it is not there. */
function settingNow(design: Design, kind: SwitchSetting['kind'], id: string): SwitchSetting | null {
  if (kind === 'driver') {
    const driver = design.drivers.find((one) => one.id === id);
    return driver ? { kind, id, position: driver.position } : null;
  }
  if (kind === 'way') {
    const way = design.ways.find((one) => one.id === id);
    return way ? { kind, id, polarity: way.polarity } : null;
  }
  const part = partsOf(design).find((one) => one.id === id);
  if (!part) return null;
  return {
    ...{ kind, id, value: partValue(part), seriesOhms: partLoss(part), isOff: part.isOff },
    ...(hasStatedLoss(part) && { isLossFixed: true }),
  };
}

/** The design with what one position of a switch sets. */
function applied(design: Design, settings: readonly SwitchSetting[]): Design {
  const parts = new Map(settings.flatMap((one) => (one.kind === 'part' ? [[one.id, one]] : [])));
  const drivers = new Map(
    settings.flatMap((one) => (one.kind === 'driver' ? [[one.id, one]] : [])),
  );
  const ways = new Map(settings.flatMap((one) => (one.kind === 'way' ? [[one.id, one]] : [])));
  const switched = (part: Design['bridges'][number]['part']) => {
    const setting = parts.get(part.id);
    if (!setting) return part;
    const { value, seriesOhms, isOff } = setting;
    const next = { ...withPartValue(part, value), isOff };
    if (!hasLoss(next)) return next;
    // With null a loss follows the value; it is then put to what it was in this position.
    const free = withStatedLoss(next, null);
    return setting.isLossFixed ? withStatedLoss(free, seriesOhms) : { ...free, seriesOhms };
  };
  return {
    ...design,
    drivers: design.drivers.map((driver) => {
      const setting = drivers.get(driver.id);
      return setting ? { ...driver, position: setting.position } : driver;
    }),
    ways: design.ways.map((way) => ({
      ...way,
      polarity: ways.get(way.id)?.polarity ?? way.polarity,
      parts: way.parts.map(switched),
    })),
    bridges: design.bridges.map((bridge) => ({ ...bridge, part: switched(bridge.part) })),
  };
}

/**
 * The design with a switch in another position: how its members are now is kept as the position
 * that is left. A switch or a position that is not there changes nothing.
 */
export function turned(design: Design, switchId: string, positionId: string): Design {
  const one = design.switches.find(({ id }) => id === switchId);
  const to = one?.positions.find(({ id }) => id === positionId);
  if (!one || !to || one.chosenId === positionId) return design;
  const left = {
    ...one,
    chosenId: positionId,
    positions: one.positions.map((position) =>
      position.id === one.chosenId
        ? {
            ...position,
            settings: position.settings.map(({ kind, id }) => settingNow(design, kind, id)!),
          }
        : position,
    ),
  };
  return applied(
    {
      ...design,
      switches: design.switches.map((other) => (other.id === switchId ? left : other)),
    },
    to.settings,
  );
}

/** A switch that also sets something, which begins in every position as it is now. */
export function withMember(
  design: Design,
  one: DesignSwitch,
  kind: SwitchSetting['kind'],
  id: string,
): DesignSwitch {
  const setting = settingNow(design, kind, id);
  if (!setting || memberOf({ switches: [one] }, kind, id)) return one;
  return {
    ...one,
    positions: one.positions.map((position) => ({
      ...position,
      settings: [...position.settings, setting],
    })),
  };
}

/** A switch with one more position, in which everything is as it is now. */
export const withPosition = (
  design: Design,
  one: DesignSwitch,
  id: string,
  name: string,
): DesignSwitch => ({
  ...one,
  positions: [
    ...one.positions,
    {
      id,
      name,
      settings: one.positions[0].settings.map((member) =>
        settingNow(design, member.kind, member.id)!,
      ),
    },
  ],
});

/** A switch that no longer sets something. */
export const withoutMember = (
  one: DesignSwitch,
  kind: SwitchSetting['kind'],
  id: string,
): DesignSwitch => ({
  ...one,
  positions: one.positions.map((position) => ({
    ...position,
    settings: position.settings.filter((member) => member.kind !== kind || member.id !== id),
  })),
});

/** The switch that sets something. */
export const memberOf = (
  { switches }: Pick<Design, 'switches'>,
  kind: SwitchSetting['kind'],
  id: string,
): DesignSwitch | undefined =>
  switches.find(({ positions: [first] }) =>
    first.settings.some((member) => member.kind === kind && member.id === id),
  );

/** For which position of a switch a driver's place holds, in words; null where it is the same in all. */
export function placeHeldFor(
  { switches }: Pick<Design, 'switches'>,
  driverId: string,
): string | null {
  const owner = memberOf({ switches }, 'driver', driverId);
  const chosen = owner?.positions.find(({ id }) => id === owner.chosenId);
  return owner && chosen
    ? `This place holds for position ${chosen.name} of the switch ${owner.name}.`
    : null;
}

/** One position of one switch, with all other switches as they are chosen. */
interface Alternative {
  readonly positionId: string;
  /** "Treble: soft". */
  readonly name: string;
  readonly isChosen: boolean;
  readonly design: Design;
}

/** Every position of every switch. */
export const alternatives = (design: Design): Alternative[] =>
  design.switches.flatMap(({ id, name, positions, chosenId }) =>
    positions.map((position) => ({
      positionId: position.id,
      name: `${name}: ${position.name}`,
      isChosen: position.id === chosenId,
      design: turned(design, id, position.id),
    })),
  );

/** Settings go with what they set. */
export function withoutLooseSettings(design: Design): Design {
  if (design.switches.length === 0) return design;
  const isLoose = ({ kind, id }: SwitchSetting) => settingNow(design, kind, id) === null;
  if (!design.switches.some(({ positions: [first] }) => first.settings.some(isLoose)))
    return design;
  return {
    ...design,
    switches: design.switches.map((one) => ({
      ...one,
      positions: one.positions.map((position) => ({
        ...position,
        settings: position.settings.filter((setting) => !isLoose(setting)),
      })),
    })),
  };
}
