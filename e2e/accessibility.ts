import AxeBuilder from '@axe-core/playwright'
import { expect, type Page } from '@playwright/test'

/** The page, or only the dialog that is open. */
type Part = 'page' | 'dialog'

/** Expects no accessibility faults: by the rules of WCAG 2.2 AA, and what is good practice beyond them. */
export async function expectNoFaults(page: Page, part: Part = 'page'): Promise<void> {
  expect(await faults(axeOf(page, part))).toEqual([])
}

/** Expects no faults in the light and then in the dark, where only the colours are others. The page is dark from then on. */
export async function expectNoFaultsInEitherTheme(page: Page, part: Part = 'page'): Promise<void> {
  await expectNoFaults(page, part)
  await turnDark(page)
  expect(await faults(axeOf(page, part).withRules(['color-contrast']))).toEqual([])
}

/** In one page alone: else the results of each go through an empty page that is opened for them. There are no frames here. */
function axeOf(page: Page, part: Part): AxeBuilder {
  const axe = new AxeBuilder({ page }).setLegacyMode()
  return part === 'dialog' ? axe.include('[role=dialog]') : axe
}

/** What is wrong, as lines that name the elements. */
async function faults(axe: AxeBuilder): Promise<string[]> {
  const { violations } = await axe.analyze()
  return violations.map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html).join(' | ')}`)
}

async function turnDark(page: Page): Promise<void> {
  const background = () => page.evaluate(() => getComputedStyle(document.body).backgroundColor)
  const light = await background()
  await page.evaluate(() => {
    document.documentElement.dataset.theme = 'ember'
  })
  await expect.poll(background).not.toBe(light)
  // Colours change over a fifth of a second; what is judged is what they end in.
  await page.evaluate(() =>
    Promise.allSettled(
      document
        .getAnimations()
        .filter((animation) => animation instanceof CSSTransition)
        .map(({ finished }) => finished),
    ),
  )
}
