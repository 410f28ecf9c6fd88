import fs from 'node:fs'
import path from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { temporaryDir } from '../../../test/world'
import { answerWithFile } from './ranged'

const dir = temporaryDir('ranged')
const file = path.join(dir, 'ten.bin')
fs.writeFileSync(file, '0123456789')
afterAll(() => fs.rmSync(dir, { recursive: true }))

function answer(range?: string, downloadName?: string): Promise<Response> {
  const request = new Request('http://localhost/x', range ? { headers: { Range: range } } : {})
  return answerWithFile(request, file, { mime: 'audio/wav', ...(downloadName ? { downloadName } : {}) })
}

describe('fileAnswer', () => {
  it('sends the whole file and says that parts can be had', async () => {
    const response = await answer()
    expect(response.status).toBe(200)
    expect(response.headers.get('accept-ranges')).toBe('bytes')
    expect(response.headers.get('content-length')).toBe('10')
    expect(await response.text()).toBe('0123456789')
  })

  it.each([
    ['bytes=0-3', '0123', 'bytes 0-3/10'],
    ['bytes=4-', '456789', 'bytes 4-9/10'],
    ['bytes=-2', '89', 'bytes 8-9/10'],
    ['bytes=8-99', '89', 'bytes 8-9/10'],
    ['bytes=-99', '0123456789', 'bytes 0-9/10'],
  ])('sends the part %s', async (range, text, contentRange) => {
    const response = await answer(range)
    expect(response.status).toBe(206)
    expect(response.headers.get('content-range')).toBe(contentRange)
    expect(response.headers.get('content-length')).toBe(String(text.length))
    expect(await response.text()).toBe(text)
  })

  it.each(['bytes=10-', 'bytes=5-4'])('refuses the part %s', async (range) => {
    await expect(answer(range)).rejects.toMatchObject({ code: 'range' })
  })

  it.each(['bytes=-', 'lines=1-2', 'bytes=a-b', 'bytes=0-1,3-4'])('sends the whole file for %s', async (range) => {
    expect((await answer(range)).status).toBe(200)
  })

  it('names the file to save, in any script, without a way to break the header', async () => {
    const header = (await answer(undefined, 'Türschlag "x".wav')).headers.get('content-disposition')
    expect(header).toBe(`attachment; filename="T_rschlag _x_.wav"; filename*=UTF-8''T%C3%BCrschlag%20%22x%22.wav`)
  })

  it('says when the file is gone', async () => {
    const request = new Request('http://localhost/x')
    await expect(answerWithFile(request, `${file}.gone`, { mime: 'a/b' })).rejects.toMatchObject({ code: 'not-found' })
  })
})
