'use client';
import { useTextDraft } from '@/ui/fields/useTextDraft';
import { Input, TextArea, TextField } from 'react-aria-components';
import styled from 'styled-components';
import { amplifierPresets, roomGainDbOf, speakerCountOf } from '@/core/brief/answers';
import type { Brief } from '@/core/document/briefSchema';
import { drives } from '@/core/document/programme';
import { formatFixed, type Dimension } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { fieldLook } from '@/ui/fields/field';
import { carpentries, places, programmes, purposes } from './briefWords';
import { GivesWay } from './GivesWay';
import { Question } from './Question';
import { useAnswer } from './useAnswer';
import { Sentence } from '@/ui/sheets';

type NumberKey = {
  [K in keyof Brief]-?: number extends NonNullable<Brief[K]> ? K : never;
}[keyof Brief];

/** Distance at which the room is told: the farthest seat's, or one that is usual. */
const seatDistance = ({ farthestSeatMm, nearestSeatMm }: Brief): number =>
  farthestSeatMm ?? nearestSeatMm ?? 3000;

/** The questions, as sentences. */
export function Answers() {
  return (
    <>
      <h2>The brief</h2>
      <Lead>Every answer may stay open. Each one sharpens what is at the right.</Lead>
      <Purpose />
      <Seats />
      <Amplifier />
      <Loudness />
      <Means />
      <GivesWay />
    </>
  );
}

interface QuantityProps {
  readonly of: NumberKey;
  readonly label: string;
  readonly question: string;
  readonly dimension: Dimension;
  readonly min: number;
  readonly max: number;
  readonly stepBy: number;
  readonly placeholder?: string;
}

/** A blank for one number of the brief. */
function Quantity({ of, label, question, placeholder, ...rest }: QuantityProps) {
  const value = useDeskState((state) => state.design.brief[of]);
  const answer = useAnswer();
  return (
    <QuantityBlank
      label={label}
      value={value}
      onChange={(next) => answer(question, { [of]: next })}
      {...(placeholder === undefined ? {} : { placeholder })}
      {...rest}
    />
  );
}

function Purpose() {
  const purpose = useDeskState((state) => state.design.brief.purpose);
  const place = useDeskState((state) => state.design.brief.place);
  const answer = useAnswer();
  return (
    <Question title="What for, and where">
      <Sentence>
        The speaker is for{' '}
        <ChoiceBlank
          label="Purpose"
          options={purposes}
          value={purpose}
          onChange={(next) => answer('purpose', { purpose: next })}
        />{' '}
        and stands{' '}
        <ChoiceBlank
          label="Place"
          options={places}
          value={place}
          onChange={(next) => answer('place', { place: next })}
        />
        .
      </Sentence>
    </Question>
  );
}

function Seats() {
  const farthest = useDeskState((state) => seatDistance(state.design.brief));
  const room = useDeskState((state) => roomGainDbOf(state.design.brief, farthest));
  const count = useDeskState((state) => speakerCountOf(state.design.brief));
  const metre = { dimension: 'distance', min: 100, max: 100_000, stepBy: 100 } as const;
  return (
    <Question title="Who listens">
      <Sentence>
        The nearest seat is{' '}
        <Quantity of="nearestSeatMm" label="Nearest seat" question="nearest seat" {...metre} />{' '}
        away, the farthest{' '}
        <Quantity of="farthestSeatMm" label="Farthest seat" question="farthest seat" {...metre} />;
        they spread ±
        <Quantity
          of="spreadDeg"
          label="Spread of the seats, to each side"
          question="spread of the seats"
          dimension="degree"
          min={1}
          max={90}
          stepBy={1}
        />
        . There are{' '}
        <Quantity
          of="speakerCount"
          label="Number of speakers"
          question="number of speakers"
          dimension="number"
          min={1}
          max={16}
          stepBy={1}
          placeholder={String(count)}
        />{' '}
        speakers in a room of{' '}
        <Quantity
          of="roomSquareMetres"
          label="Floor of the room"
          question="floor of the room"
          dimension="squareMetre"
          min={1}
          max={10_000}
          stepBy={1}
        />
        , which adds{' '}
        <Quantity
          of="roomGainDb"
          label="What the room adds"
          question="room"
          dimension="decibel"
          min={0}
          max={12}
          stepBy={0.5}
          placeholder={`${formatFixed(room, 1)} dB`}
        />{' '}
        at the farthest seat.
      </Sentence>
    </Question>
  );
}

function Amplifier() {
  const desk = useDesk();
  const { ratedWatts, ratedIntoOhms, lowestLoadOhms, programme } = useDeskState(
    (state) => state.design.brief,
  );
  const amplifier = useDeskState((state) => state.design.amplifier);
  const answer = useAnswer();
  const preset = amplifierPresets.find(
    (one) =>
      one.ratedWatts === ratedWatts &&
      one.ratedIntoOhms === ratedIntoOhms &&
      one.lowestLoadOhms === lowestLoadOhms &&
      one.outputOhms === amplifier.outputOhms,
  );
  const setOutput = (outputOhms: number) =>
    desk.change(
      { type: 'setAmplifier', amplifier: { ...amplifier, outputOhms } },
      'answer: output resistance',
      'brief output resistance',
    );
  const setCable = (cableOhms: number) =>
    desk.change(
      { type: 'setAmplifier', amplifier: { ...amplifier, cableOhms } },
      'answer: cable',
      'brief cable',
    );
  const choose = (id: string | null) => {
    const chosen = amplifierPresets.find((one) => one.id === id);
    if (!chosen) return;
    answer('amplifier', {
      ratedWatts: chosen.ratedWatts,
      ratedIntoOhms: chosen.ratedIntoOhms,
      lowestLoadOhms: chosen.lowestLoadOhms,
    });
    setOutput(chosen.outputOhms);
  };
  const ohms = { dimension: 'ohm', min: 0.5, max: 64, stepBy: 1 } as const;
  return (
    <Question title="What drives it">
      <Sentence>
        An amplifier like{' '}
        <ChoiceBlank
          label="Kind of amplifier"
          options={amplifierPresets.map(({ id, name }) => ({ id, text: name }))}
          value={preset?.id ?? null}
          onChange={choose}
          placeholder={ratedWatts === null ? '…' : 'one of its own kind'}
        />
        : it gives{' '}
        <Quantity
          of="ratedWatts"
          label="Rated power"
          question="amplifier power"
          dimension="watt"
          min={0.1}
          max={10_000}
          stepBy={5}
        />{' '}
        into{' '}
        <Quantity
          of="ratedIntoOhms"
          label="Load of the rated power"
          question="amplifier load"
          {...ohms}
        />
        , bears no less than{' '}
        <Quantity of="lowestLoadOhms" label="Lowest load" question="lowest load" {...ohms} />, and
        has an output resistance of{' '}
        <QuantityBlank
          label="Output resistance"
          value={amplifier.outputOhms}
          dimension="ohm"
          min={0}
          max={100}
          stepBy={0.1}
          onChange={(value) => setOutput(value ?? 0)}
        />
        ; the cable adds{' '}
        <QuantityBlank
          label="Resistance of the cable, both conductors"
          value={amplifier.cableOhms}
          dimension="ohm"
          min={0}
          max={100}
          stepBy={0.01}
          onChange={(value) => setCable(value ?? 0)}
        />
        . Power, heat and excursion are told with{' '}
        <ChoiceBlank
          label="How the amplifier is driven"
          options={programmes}
          value={programme}
          onChange={(next) => answer('programme', { programme: next })}
          placeholder={drives.overdriven.name}
        />
        . The speaker shall be rated{' '}
        <Quantity of="ratedOhms" label="Rated impedance" question="rated impedance" {...ohms} />.
      </Sentence>
    </Question>
  );
}

function Loudness() {
  const decibel = { dimension: 'decibel', stepBy: 1 } as const;
  const hertz = { dimension: 'hertz', min: 5, max: 500, stepBy: 1 } as const;
  return (
    <Question title="How loud, how low, how flat">
      <Sentence>
        At the farthest seat it plays at{' '}
        <Quantity
          of="loudnessDb"
          label="Loudness"
          question="loudness"
          min={40}
          max={130}
          {...decibel}
        />{' '}
        in the long run, with{' '}
        <Quantity
          of="headroomDb"
          label="Headroom"
          question="headroom"
          min={0}
          max={40}
          {...decibel}
        />{' '}
        of headroom for peaks, the crest factor of what is played. F3, the frequency 3 dB down, is{' '}
        <Quantity of="reach3Hz" label="F3, 3 dB down" question="F3" {...hertz} /> and 10 dB down at{' '}
        <Quantity of="reach10Hz" label="F10, 10 dB down" question="F10" {...hertz} />. On axis it
        stays within ±
        <Quantity
          of="evennessDb"
          label="Deviation on axis"
          question="flatness"
          dimension="decibel"
          min={0.1}
          max={20}
          stepBy={0.5}
        />{' '}
        of the target.
      </Sentence>
    </Question>
  );
}

function Means() {
  const currency = useDeskState((state) => state.design.brief.currency);
  const carpentry = useDeskState((state) => state.design.brief.carpentry);
  const mustUse = useDeskState((state) => state.design.brief.mustUse);
  const answer = useAnswer();
  const side = { dimension: 'millimetre', min: 20, max: 10_000, stepBy: 10 } as const;
  return (
    <Question title="Size, money, craft">
      <Sentence>
        Outside it is at most{' '}
        <Quantity of="widthMm" label="Largest width" question="width" {...side} /> wide,{' '}
        <Quantity of="heightMm" label="Largest height" question="height" {...side} /> high and{' '}
        <Quantity of="depthMm" label="Largest depth" question="depth" {...side} /> deep. One speaker
        costs at most{' '}
        <Quantity
          of="money"
          label="Money for one speaker"
          question="money"
          dimension="number"
          min={1}
          max={1e7}
          stepBy={10}
        />{' '}
        <ShortText
          label="Currency"
          value={currency}
          onCommit={(next) => answer('currency', { currency: next })}
        />
        . Carpentry:{' '}
        <ChoiceBlank
          label="Carpentry"
          options={carpentries}
          value={carpentry}
          onChange={(next) => answer('carpentry', { carpentry: next })}
        />
        .
      </Sentence>
      <LongText
        label="Drivers and parts that must be used"
        value={mustUse}
        onCommit={(next) => answer('must be used', { mustUse: next })}
      />
    </Question>
  );
}

interface TextProps {
  readonly label: string;
  readonly value: string;
  readonly onCommit: (value: string) => void;
}

function ShortText({ label, value, onCommit }: TextProps) {
  const draft = useTextDraft({ value, longest: 4, onCommit });
  return (
    <Short aria-label={label} maxLength={4} {...draft}>
      <Input />
    </Short>
  );
}

function LongText({ label, value, onCommit }: TextProps) {
  const draft = useTextDraft({ value, longest: 600, onCommit, mayBeEmpty: true, hasLines: true });
  return (
    <Long aria-label={label} maxLength={600} {...draft}>
      <TextArea rows={2} placeholder="Drivers and parts that must be used, if any" />
    </Long>
  );
}

const Lead = styled.p`
  color: ${({ theme }) => theme.colour.quiet};
  margin-bottom: 0.9rem;
`;

const Short = styled(TextField)`
  display: inline;
  input {
    ${fieldLook}
    width: 3.2em;
    padding: 0.05em 0.3em;
  }
`;

const Long = styled(TextField)`
  textarea {
    ${fieldLook}
    width: 100%;
    margin-top: 0.4rem;
    resize: vertical;
  }
`;
