import AxeBuilder from '@axe-core/playwright'
import type { Page } from '@playwright/test'

/** What the page is refused for by axe, by rule and element; but for rules whose reason is said where they are. */
export async function refusedBy(page: Page, where: string, but: string[] = []): Promise<string[]> {
  // what lies half beneath the band would be measured as it is seen
  await page.evaluate(() => {
    window.scrollTo(0, 0)
  })
  const { violations } = await new AxeBuilder({ page })
    .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
    .disableRules(but)
    .analyze()
  return violations.map(({ id, nodes }) => `${where}: ${id} ${nodes.map((node) => node.html).join(' ')}`)
}
