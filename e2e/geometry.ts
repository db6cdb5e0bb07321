import type { Page } from '@playwright/test'

/** What is wrong with a page's layout, each fault in words. */
export interface LayoutFaults {
  /** px by which the page scrolls sideways */
  sideways: number
  /** texts that lie over each other */
  overlaps: string[]
  /** what is pressed and lower or narrower than a finger, px */
  small: string[]
}

/** Measures what is in view: texts over each other, what is too small to be pressed, and scrolling sideways. */
export const layoutFaults = (page: Page, target: number): Promise<LayoutFaults> =>
  page.evaluate((least) => {
    const isSeen = (element: Element): boolean => {
      const style = getComputedStyle(element)
      return style.visibility !== 'hidden' && style.display !== 'none' && Number(style.opacity) > 0.05
    }
    const clipped = (element: Element, rect: DOMRect): DOMRect | null => {
      let [left, top, right, bottom] = [rect.left, rect.top, rect.right, rect.bottom]
      for (let up: Element | null = element; up; up = up.parentElement) {
        if (getComputedStyle(up).overflow === 'visible') continue
        const box = up.getBoundingClientRect()
        left = Math.max(left, box.left)
        top = Math.max(top, box.top)
        right = Math.min(right, box.right)
        bottom = Math.min(bottom, box.bottom)
      }
      return right - left > 1 && bottom - top > 1 ? new DOMRect(left, top, right - left, bottom - top) : null
    }
    const texts: { text: string; rect: DOMRect; element: Element }[] = []
    const walker = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
    while (walker.nextNode()) {
      const node = walker.currentNode
      const element = node.parentElement!
      if (
        !node.textContent!.trim() ||
        !isSeen(element) ||
        element.closest('svg, .sr-only, .el-message, [aria-hidden="true"]')
      )
        continue
      const range = document.createRange()
      range.selectNodeContents(node)
      for (const rect of range.getClientRects()) {
        const seen = clipped(element, rect)
        if (seen) texts.push({ text: node.textContent!.trim().slice(0, 40), rect: seen, element })
      }
    }
    const overlaps: string[] = []
    const room = 3
    texts.forEach((a, i) =>
      texts.slice(i + 1).forEach((b) => {
        if (a.element === b.element || a.element.contains(b.element) || b.element.contains(a.element)) return
        const wide = Math.min(a.rect.right, b.rect.right) - Math.max(a.rect.left, b.rect.left)
        const high = Math.min(a.rect.bottom, b.rect.bottom) - Math.max(a.rect.top, b.rect.top)
        if (wide > room && high > room) overlaps.push(`"${a.text}" over "${b.text}"`)
      }),
    )
    const pressed =
      'button, a[href], input:not([type=file]), textarea, [role=switch], .el-select__wrapper, .el-radio-button__inner'
    const small = [...document.querySelectorAll(pressed)].flatMap((element) => {
      const rect = element.getBoundingClientRect()
      const seen = isSeen(element) ? clipped(element, rect) : null
      if (!seen || element.closest('svg, p, [aria-hidden="true"], .el-select__wrapper input, .el-radio-button input'))
        return []
      // What stands in a frame that is pressed as a whole is as large as the frame.
      const frame =
        element.closest('label, .el-input__wrapper, .el-select__wrapper, .el-checkbox, .el-tabs__item') ?? element
      const box = frame.getBoundingClientRect()
      const name = element.getAttribute('aria-label') ?? element.textContent!.trim()
      return box.height < least - 0.5 || box.width < 24 - 0.5
        ? [
            `${element.tagName.toLowerCase()} "${name.slice(0, 30)}" ${Math.round(box.width)} x ${Math.round(box.height)}`,
          ]
        : []
    })
    return {
      sideways: document.documentElement.scrollWidth - document.documentElement.clientWidth,
      overlaps: [...new Set(overlaps)],
      small: [...new Set(small)],
    }
  }, target)
