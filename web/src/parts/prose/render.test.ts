import { describe, expect, it } from 'vitest'
import { render } from '@/parts/prose/render'

describe('prose', () => {
  it('sets formulas and keeps the words around them', () => {
    const html = render('The step lies at $\\lambda = 1$ and **only** there.')
    expect(html).toContain('katex')
    expect(html).toContain('<strong>only</strong>')
  })
  it('never lets HTML of a text through', () => {
    expect(render('<script>alert(1)</script>')).not.toContain('<script>')
  })
  it('shows a broken formula instead of failing', () => {
    expect(render('$\\frac{1$')).toContain('frac')
  })
})
