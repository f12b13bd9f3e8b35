import { encodeWav, formatQuantity } from '@yield/core';
import { Pause, Play, Save, Square } from 'lucide-react';
import { useEffect, useState, type JSX } from 'react';
import { warningWords, VERDICT } from '../trace/verdictWords.ts';
import { ErrorNotice, Caution } from '../ui/Notice.tsx';
import { QuantityField } from '../ui/QuantityField.tsx';
import { Reveal } from '../ui/Reveal.tsx';
import { GradeMark } from '../ui/StatusMark.tsx';
import { useDraft, useQuantityDraft } from '../ui/useDraft.ts';
import { canListen } from './audioInput.ts';
import { calibrationDoubt, calibrationOf, readCalibration, type Calibration } from './calibration.ts';
import { LiveAim, type Aim } from './LiveAim.tsx';
import { LiveScope } from './LiveScope.tsx';
import { useLiveInput, type Judged, type LiveInput } from './useLiveInput.ts';

interface Props {
  toneHz: number;
  limitThdPercent: number;
  tuneId: string;
  /** where the level is to come to, where a knob is turned by it */
  aim?: Aim;
  /** takes a held frame as a capture; left out where none is taken */
  onHold?: (file: File, fullScaleVolt: number | undefined) => void;
}

/** The computer's audio input as a scope: a verdict while the volume turns, a frame held and kept as a capture. */
export function LivePanel({ toneHz, limitThdPercent, tuneId, aim, onHold }: Props): JSX.Element {
  const [calibrationText, setCalibration] = useDraft(`live/${tuneId}/calibration`);
  const calibration = readCalibration(calibrationText);
  const live = useLiveInput(toneHz, limitThdPercent, calibration?.fullScaleVolt);
  const [held, setHeld] = useState<Held | null>(null);
  const input = live.state.kind === 'running' ? live.state.input : null;
  const shown = held?.judged ?? live.judged;
  const doubt = calibration === undefined || input === null ? undefined : calibrationDoubt(calibration, input);
  const hold = (): void => {
    const samples = live.newest(1);
    if (live.judged !== null && samples.length > 0) setHeld({ samples, judged: live.judged });
  };
  const keep = (): void => {
    if (held === null) return;
    const { sampleRateHz } = held.judged;
    const bytes = encodeWav([Float64Array.from(held.samples)], { sampleRateHz, bits: 24 });
    onHold?.(
      new File([bytes], `live-${formatQuantity(toneHz, 'Hz').replace(/\s/g, '-')}.wav`),
      doubt === undefined ? calibration?.fullScaleVolt : undefined,
    );
    setHeld(null);
  };
  return (
    <section className="panel space-y-3" aria-label="Live input">
      <div className="flex flex-wrap items-center gap-3">
        {input === null ? (
          <button
            type="button"
            className="btn btn-primary btn-tall"
            disabled={live.state.kind === 'asking'}
            onClick={() => void live.start()}
          >
            <Play size={18} aria-hidden /> {live.state.kind === 'asking' ? 'Asking the browser …' : 'Start listening'}
          </button>
        ) : (
          <>
            <button type="button" className="btn btn-tall" onClick={live.stop}>
              <Square size={18} aria-hidden /> Stop
            </button>
            {held === null ? (
              <button type="button" className="btn btn-primary btn-tall" disabled={live.judged === null} onClick={hold}>
                <Pause size={18} aria-hidden /> Hold
              </button>
            ) : (
              <>
                {onHold !== undefined && (
                  <button type="button" className="btn btn-primary btn-tall" onClick={keep}>
                    <Save size={18} aria-hidden /> Keep as a capture
                  </button>
                )}
                <button type="button" className="btn btn-tall" onClick={() => setHeld(null)}>
                  <Play size={18} aria-hidden /> Go on
                </button>
              </>
            )}
            <Devices deviceId={input.deviceId} onChoose={(id) => void live.start(id)} />
          </>
        )}
      </div>
      {live.state.kind === 'failed' && (
        <ErrorNotice>
          <p className="font-medium">{live.state.problem.message}</p>
          <p className="mt-0.5">{live.state.problem.next}</p>
        </ErrorNotice>
      )}
      {input !== null && (
        <div className="grid gap-4 md:grid-cols-[minmax(0,1fr)_15rem]">
          <LiveScope newest={live.newest} sampleRateHz={input.sampleRateHz} toneHz={toneHz} held={held?.samples ?? null} />
          <LiveVerdict shown={shown} isCalibrated={calibration !== undefined && doubt === undefined} />
        </div>
      )}
      {input !== null && aim !== undefined && (
        <LiveAim aim={aim} liveVolt={calibration === undefined || doubt !== undefined ? undefined : live.judged?.channel.voltageRms} />
      )}
      {input !== null && (
        <Calibrate
          live={live}
          input={input}
          tuneId={tuneId}
          calibration={calibration}
          doubt={doubt}
          onCalibrate={(next) => setCalibration(next === undefined ? null : JSON.stringify(next))}
        />
      )}
      <Caution>
        Line outputs only, through a divider where they give more than the input takes. Never an amplifier’s output straight into a sound
        card: it destroys the card, and often the computer.
      </Caution>
      <Reveal summary="What goes between">
        <p className="max-w-prose leading-snug">
          A line input usually takes 1 to 2 V RMS. Above that, put 100 kΩ in the line and 11 kΩ from the input to ground: a tenth arrives,
          and a source’s 10 V become 1 V. For a test tone at an amplifier’s terminals use an attenuator made for it, with its rating above
          the amplifier’s voltage, or a scope with a ten-to-one probe. Begin with the input level at its lowest.
        </p>
      </Reveal>
    </section>
  );
}

interface Held {
  samples: Float32Array;
  judged: Judged;
}

function LiveVerdict({ shown, isCalibrated }: { shown: Judged | null; isCalibrated: boolean }): JSX.Element {
  if (shown === null) return <p className="text-quiet self-center">Listening …</p>;
  const { channel } = shown;
  const { word, grade } = VERDICT[channel.clipping.verdict];
  return (
    <div className="self-center" data-testid="live-verdict" data-verdict={channel.clipping.verdict}>
      <p className="flex items-center gap-2.5 text-2xl font-semibold">
        <GradeMark grade={grade} size={24} /> {word}
      </p>
      <dl className="mt-2 space-y-1">
        <Row name="Distortion" value={channel.thdPercent === undefined ? '–' : formatQuantity(channel.thdPercent, '%')} />
        <Row name="Tone" value={channel.fundamentalHz === undefined ? '–' : formatQuantity(channel.fundamentalHz, 'Hz')} />
        <Row name="Level" value={levelWords(shown, isCalibrated)} />
      </dl>
      {warningWords({ ...channel, warnings: channel.warnings.filter((warning) => warning !== 'uncalibrated') }).map((words) => (
        <p key={words} className="text-attention mt-1.5 text-sm leading-snug">
          {words}
        </p>
      ))}
    </div>
  );
}

function levelWords({ channel: { voltageRms, peakPositiveVolt }, scaleVolt }: Judged, isCalibrated: boolean): string {
  if (isCalibrated) return formatQuantity(voltageRms, 'V');
  return peakPositiveVolt <= 0 ? 'silent' : `${formatQuantity((100 * peakPositiveVolt) / scaleVolt, '%')} of full scale`;
}

function Row({ name, value }: { name: string; value: string }): JSX.Element {
  return (
    <div className="flex items-baseline justify-between gap-4">
      <dt className="text-quiet text-sm">{name}</dt>
      <dd className="font-medium">{value}</dd>
    </div>
  );
}

function Devices({ deviceId, onChoose }: { deviceId: string; onChoose: (id: string) => void }): JSX.Element | null {
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([]);
  useEffect(() => {
    if (!canListen()) return undefined;
    let live = true;
    const look = (): void =>
      void navigator.mediaDevices.enumerateDevices().then((all) => {
        if (live) setDevices(all.filter(({ kind }) => kind === 'audioinput'));
      });
    look();
    navigator.mediaDevices.addEventListener('devicechange', look);
    return () => {
      live = false;
      navigator.mediaDevices.removeEventListener('devicechange', look);
    };
  }, [deviceId]);
  if (devices.length < 2) return null;
  return (
    <select className="select min-h-11 w-56" aria-label="Audio input" value={deviceId} onChange={(event) => onChoose(event.target.value)}>
      {devices.map((device) => (
        <option key={device.deviceId} value={device.deviceId}>
          {device.label}
        </option>
      ))}
    </select>
  );
}

/** The meter on the same tone tells what full scale is worth. */
function Calibrate({
  live,
  input,
  tuneId,
  calibration,
  doubt,
  onCalibrate,
}: {
  live: LiveInput;
  input: { label: string; sampleRateHz: number };
  tuneId: string;
  calibration: Calibration | undefined;
  doubt: string | undefined;
  onCalibrate: (calibration: Calibration | undefined) => void;
}): JSX.Element {
  const meter = useQuantityDraft(`live/${tuneId}/meter`, 'V');
  const apply = (): void => {
    if (live.judged === null || meter.value === undefined) return;
    const rms = live.judged.channel.voltageRms / live.judged.scaleVolt;
    onCalibrate(calibrationOf(meter.value, rms, input));
    meter.setText(null);
  };
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-2">
      <QuantityField label="Calibrate: the meter reads" unit="V" draft={meter} className="w-44" />
      <button type="button" className="btn btn-tall" disabled={meter.value === undefined || live.judged === null} onClick={apply}>
        Calibrate
      </button>
      <p className="text-quiet min-w-40 flex-1 self-center text-sm leading-snug">
        {doubt ??
          (calibration === undefined
            ? 'Not calibrated: the verdict is valid, volts are unknown.'
            : `Full scale is ${formatQuantity(calibration.fullScaleVolt, 'V')} peak.`)}
      </p>
    </div>
  );
}
