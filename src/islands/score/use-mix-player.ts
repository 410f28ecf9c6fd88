import { useEffect, useRef, useState } from 'react'
import type { SoundDetail } from '../../contract'
import { MIX_RATE_HZ } from '../../core/mix'
import { audioKey, cutGain, mixAudio, type PlacedAudio, type Score } from '../../core/score'
import type { TimeRange } from '../../core/time-range'
import { messages } from '../../messages'
import { audioAddress } from '../audio/audio-cache'
import type { CutPlayer } from '../moments/use-cut-player'
import { isLeadingRate, PictureLead } from './lead-picture'
import { MIX_PROCESSOR, type MixMessage, type MixReport } from './mix-messages'
import { type MixLevels, MixMeter } from './mix-meter'
import workletUrl from './mix-worklet.ts?worker&url'
import { Stretching } from './stretching'

/** How the mix plays. */
export interface MixPlayer {
  readonly levels: MixLevels | null
  /** Sounds whose audio could not be had, by their keys. */
  readonly missing: ReadonlySet<string>
  readonly problem: string | null
  /** How far the picture is from the sound, s, and how often the sound came too late. */
  readonly health: { readonly driftS: number; readonly underruns: number } | null
}

interface Engine {
  readonly context: AudioContext
  readonly node: AudioWorkletNode
  readonly sent: Set<string>
  readonly stretching: Stretching
}

/** Plays what is placed with the cut: the sound on the audio clock, the picture after it. */
export function useMixPlayer(
  player: CutPlayer,
  score: Score,
  { sounds, speech }: { readonly sounds: ReadonlyMap<number, SoundDetail>; readonly speech: readonly TimeRange[] },
): MixPlayer {
  const engine = useRef<Promise<Engine> | null>(null)
  const [levels, setLevels] = useState<MixLevels | null>(null)
  const [missing, setMissing] = useState<ReadonlySet<string>>(new Set())
  const [problem, setProblem] = useState<string | null>(null)
  const [health, setHealth] = useState<MixPlayer['health']>(null)
  const live = useRef({ score, sounds, speech })
  live.current = { score, sounds, speech }
  const isPlaying = useRef(false)

  useEffect(() => {
    const media = player.mediaRef.current
    if (!media) return
    const lead = new PictureLead()
    const tell = (message: MixMessage): void => {
      void engine.current?.then(({ node }) => node.port.postMessage(message)).catch(() => undefined)
    }
    const onReport = (meter: MixMeter, { context }: Engine, report: MixReport): void => {
      if (!isPlaying.current) return
      meter.push(report.left, report.right)
      setLevels(meter.levels(report.mostLimitedDb))
      const heardS =
        report.nextFrame / MIX_RATE_HZ - (report.contextTimeS - context.currentTime) - (context.outputLatency || 0)
      const driftS = media.currentTime - heardS
      setHealth({ driftS, underruns: report.underruns })
      const step = lead.next(driftS)
      if (step.kind === 'begin-anew') begin()
      if (step.kind === 'move-sound') tell({ kind: 'move', byFrames: Math.round(step.byS * MIX_RATE_HZ) })
      if (step.kind === 'play-picture') setRate(media, step.rate)
    }
    const begin = (): void => {
      if (!isLeadingRate(media.playbackRate) || media.paused) return
      const fromS = media.currentTime
      engine.current ??= openEngine(onReport).catch((error: Error) => {
        setProblem(messages.score.whatIsPlacedCannotBe(error.message))
        throw error
      })
      void engine.current
        .then(async (opened) => {
          await opened.context.resume()
          await sendSources(opened, live.current, setMissing)
          opened.node.port.postMessage({
            kind: 'score',
            score: live.current.score,
            speech: live.current.speech,
          } satisfies MixMessage)
          const nowS = media.paused ? fromS : media.currentTime
          const latencyS = opened.context.outputLatency || 0
          isPlaying.current = !media.paused
          if (!isPlaying.current) return
          setRate(media, 1)
          lead.begin()
          opened.node.port.postMessage({
            kind: 'play',
            fromFrame: Math.round((nowS + latencyS) * MIX_RATE_HZ),
            atContextTimeS: opened.context.currentTime,
          } satisfies MixMessage)
        })
        .catch(() => undefined)
    }
    const stop = (): void => {
      isPlaying.current = false
      tell({ kind: 'stop' })
    }
    media.addEventListener('playing', begin)
    media.addEventListener('pause', stop)
    media.addEventListener('waiting', stop)
    media.addEventListener('seeking', stop)
    media.addEventListener('seeked', begin)
    return () => {
      stop()
      media.removeEventListener('playing', begin)
      media.removeEventListener('pause', stop)
      media.removeEventListener('waiting', stop)
      media.removeEventListener('seeking', stop)
      media.removeEventListener('seeked', begin)
    }
  }, [player.mediaRef])

  useEffect(() => {
    void engine.current
      ?.then(async (opened) => {
        await sendSources(opened, { score, sounds }, setMissing)
        opened.node.port.postMessage({ kind: 'score', score, speech } satisfies MixMessage)
      })
      .catch(() => undefined)
  }, [score, sounds, speech])
  // The cut is played by its own element, not by the mixer: its layer sets how loud that is.
  const ownGain = cutGain(score)
  const { setOwnGain } = player
  useEffect(() => setOwnGain(ownGain), [setOwnGain, ownGain])
  useEffect(
    () => () => {
      void engine.current
        ?.then(({ context, stretching }) => {
          stretching.close()
          return context.close()
        })
        .catch(() => undefined)
      engine.current = null
    },
    [],
  )
  return { levels, missing, problem, health }
}

function setRate(media: HTMLMediaElement, rate: number): void {
  if (Math.abs(media.playbackRate - rate) > 0.002) media.playbackRate = rate
}

async function openEngine(onReport: (meter: MixMeter, engine: Engine, report: MixReport) => void): Promise<Engine> {
  const context = new AudioContext({ sampleRate: MIX_RATE_HZ, latencyHint: 'interactive' })
  await context.audioWorklet.addModule(workletUrl)
  const node = new AudioWorkletNode(context, MIX_PROCESSOR, { numberOfInputs: 0, outputChannelCount: [2] })
  node.connect(context.destination)
  const engine: Engine = { context, node, sent: new Set(), stretching: new Stretching() }
  const meter = new MixMeter(MIX_RATE_HZ)
  node.port.onmessage = ({ data }: MessageEvent<MixReport>) => onReport(meter, engine, data)
  return engine
}

/** Fetches what is placed and gives it to the audio thread, each once. */
async function sendSources(
  { context, node, sent, stretching }: Engine,
  { score, sounds }: { readonly score: Score; readonly sounds: ReadonlyMap<number, SoundDetail> },
  setMissing: (missing: ReadonlySet<string>) => void,
): Promise<void> {
  const missing = new Set<string>()
  await Promise.all(
    mixAudio(score).map(async ({ key, audio, stretchRate }) => {
      if (sent.has(key)) return
      try {
        const asItIs = await decoded(context, addressOf(audio, sounds))
        const channels =
          stretchRate === null ? asItIs : await stretching.stretched({ key, channels: asItIs, rate: stretchRate })
        sent.add(key)
        node.port.postMessage(
          { kind: 'source', key, channels, stretchRate } satisfies MixMessage,
          channels.map(({ buffer }) => buffer),
        )
      } catch {
        missing.add(audioKey(audio))
      }
    }),
  )
  setMissing(missing)
}

function addressOf(audio: PlacedAudio, sounds: ReadonlyMap<number, SoundDetail>): string {
  if (audio.soundId === null) throw new Error(audioKey(audio))
  return audioAddress(sounds.get(audio.soundId) ?? { id: audio.soundId, audioSha256: null })
}

async function decoded(context: AudioContext, address: string): Promise<Float32Array<ArrayBuffer>[]> {
  const response = await fetch(address)
  if (!response.ok) throw new Error('not here')
  const buffer = await context.decodeAudioData(await response.arrayBuffer())
  return Array.from({ length: buffer.numberOfChannels }, (_, at) => buffer.getChannelData(at).slice())
}
