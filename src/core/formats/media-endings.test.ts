import { describe, expect, it } from 'vitest'
import { endingOf, findMime, isSoundFile, isTaggedEnding, isVideoFile } from './media-endings'

describe('the table of media files', () => {
  it.each([
    ['Film.MP4', 'video/mp4', true, false],
    ['a.b.mov', 'video/quicktime', true, false],
    ['take.WAV', 'audio/wav', false, true],
    ['take.bwf', 'audio/wav', false, true],
    ['take.oga', 'audio/ogg', false, true],
    ['take.aif', 'audio/aiff', false, true],
    ['mp4', null, false, false],
    ['virus.exe', null, false, false],
    ['x.constructor', null, false, false],
    ['x.mp3 ', null, false, false],
    ['x.mp3.txt', null, false, false],
  ])('%s', (name, mime, video, sound) => {
    expect([findMime(name), isVideoFile(name), isSoundFile(name)]).toEqual([mime, video, sound])
  })

  it('has endings small and without the dot', () => {
    expect(endingOf('A.Wav')).toBe('wav')
    expect(endingOf('none')).toBe('')
    expect(endingOf('.wav')).toBe('wav')
  })

  it('writes rights only where that is tried', () => {
    expect(isTaggedEnding('FLAC')).toBe(true)
    expect(isTaggedEnding('aac')).toBe(false)
    expect(isTaggedEnding('toString')).toBe(false)
  })
})
