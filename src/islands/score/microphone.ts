import { MIX_RATE_HZ } from '../../core/mix'
import { messages } from '../../messages'
import { RECORD_PROCESSOR, type RecordedBlock } from './record-messages'
import workletUrl from './record-worklet.ts?worker&url'

/** Nothing is done to what is recorded: it is an effect, not a call. */
const AS_IT_IS: MediaTrackConstraints = { echoCancellation: false, noiseSuppression: false, autoGainControl: false }

/** A microphone that is open. */
export interface Microphone {
  readonly context: AudioContext
  /** By so much later than it sounded a sample comes, s, as far as the browser tells. */
  readonly latencyS: number
  close(): void
}

/**
 * Opens the microphone. The browser asks for leave.
 *
 * @throws Error with a sentence that says what to do, when there is none or it was refused.
 */
export async function openMicrophone(onBlock: (block: RecordedBlock) => void): Promise<Microphone> {
  const stream = await askForMicrophone()
  try {
    const context = new AudioContext({ sampleRate: MIX_RATE_HZ, latencyHint: 'interactive' })
    await context.audioWorklet.addModule(workletUrl)
    const source = context.createMediaStreamSource(stream)
    const node = new AudioWorkletNode(context, RECORD_PROCESSOR, { numberOfInputs: 1, numberOfOutputs: 0 })
    node.port.onmessage = ({ data }: MessageEvent<RecordedBlock>) => onBlock(data)
    source.connect(node)
    await context.resume()
    const { latency } = (stream.getAudioTracks()[0]?.getSettings() ?? {}) as { latency?: number }
    return {
      context,
      latencyS: typeof latency === 'number' && latency < 1 ? latency : 0,
      close: () => {
        for (const track of stream.getTracks()) track.stop()
        void context.close()
      },
    }
  } catch (error) {
    for (const track of stream.getTracks()) track.stop()
    throw error
  }
}

async function askForMicrophone(): Promise<MediaStream> {
  if (!navigator.mediaDevices) throw new Error(messages.score.theBrowserGivesNoMicrophone)
  try {
    return await navigator.mediaDevices.getUserMedia({ audio: AS_IT_IS })
  } catch (cause) {
    throw new Error(refusalWords(cause instanceof Error ? cause.name : ''), { cause })
  }
}

/** Why there is no microphone, and what to do. @param name Of the error that the browser gives. */
export function refusalWords(name: string): string {
  switch (name) {
    case 'NotAllowedError':
      return messages.score.theBrowserDoesNotLet
    case 'NotFoundError':
      return messages.score.noMicrophoneWasFoundConnect
    case 'NotReadableError':
      return messages.score.theMicrophoneDoesNotAnswer
    default:
      return messages.score.theMicrophoneCouldNotBe
  }
}
