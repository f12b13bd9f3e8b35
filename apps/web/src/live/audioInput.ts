/** Why there is no live input, and what to do. */
export interface InputProblem {
  message: string;
  next: string;
}

export interface AudioInput {
  sampleRateHz: number;
  /** the device's own name */
  label: string;
  deviceId: string;
  close: () => void;
}

export interface InputEvents {
  /** a block of samples, as shares of digital full scale */
  onSamples: (samples: Float32Array) => void;
  /** the input ended by itself */
  onEnd: (problem: InputProblem) => void;
}

const VANISHED: InputProblem = {
  message: 'The audio input has gone.',
  next: 'Plug it in and start again. Saved traces are still here.',
};

/** Whether the browser gives a page like this one the audio input at all: a page of another machine has to be encrypted for it. */
export const canListen = (): boolean => (navigator as Partial<Navigator>).mediaDevices !== undefined;

/**
 * Opens the computer's audio input, with everything off that would bend the signal.
 *
 * @throws whatever the browser throws; `inputProblem` has the words
 */
export async function openAudioInput(deviceId: string | undefined, { onSamples, onEnd }: InputEvents): Promise<AudioInput> {
  if (!canListen()) throw new DOMException('not a secure context', 'SecurityError');
  const stream = await navigator.mediaDevices.getUserMedia({
    audio: {
      ...(deviceId === undefined ? {} : { deviceId: { exact: deviceId } }),
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
    },
  });
  const track = stream.getAudioTracks()[0]!;
  const context = new AudioContext();
  let open = true;
  const close = (): void => {
    open = false;
    for (const each of stream.getTracks()) each.stop();
    void context.close();
  };
  const end = (problem: InputProblem): void => {
    if (!open) return;
    close();
    onEnd(problem);
  };
  try {
    await context.audioWorklet.addModule('/live-input.js');
    await context.resume();
  } catch (error) {
    close();
    throw error;
  }
  const openedAtHz = context.sampleRate;
  const node = new AudioWorkletNode(context, 'live-input', { numberOfOutputs: 0 });
  node.port.onmessage = ({ data }: MessageEvent<{ samples: Float32Array; sampleRateHz: number }>) => {
    if (!open) return;
    if (data.sampleRateHz === openedAtHz) onSamples(data.samples);
    else end(rateChanged(openedAtHz, data.sampleRateHz));
  };
  context.createMediaStreamSource(stream).connect(node);
  track.addEventListener('ended', () => end(VANISHED));
  return {
    sampleRateHz: openedAtHz,
    label: track.label === '' ? 'Audio input' : track.label,
    deviceId: track.getSettings().deviceId ?? '',
    close,
  };
}

function rateChanged(wasHz: number, isHz: number): InputProblem {
  return {
    message: `The input’s sample rate changed from ${wasHz} to ${isHz} Hz.`,
    next: 'Start again and recalibrate: another sample rate often changes the input level.',
  };
}

/** What the browser's refusal means, in a tuner's words. */
export function inputProblem(error: unknown): InputProblem {
  const name = error instanceof Error ? error.name : '';
  switch (name) {
    case 'NotAllowedError':
    case 'SecurityError':
      return {
        message: 'The browser may not use the audio input.',
        next: 'Allow the microphone for this page (the sign beside the address), then start again. A saved WAV works without it.',
      };
    case 'NotFoundError':
    case 'OverconstrainedError':
      return {
        message: 'No audio input is connected.',
        next: 'Plug in a sound card with a line input, then start again. A saved capture can be dropped instead.',
      };
    case 'NotReadableError':
    case 'AbortError':
      return { message: 'Another program is using the audio input.', next: 'Close it, then start again.' };
    default:
      return { message: 'The audio input could not be opened.', next: 'Try another input, or drop a saved capture instead.' };
  }
}
