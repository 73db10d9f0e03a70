// @vitest-environment happy-dom
import { describe, expect, it } from 'vitest'
import { render } from '@/parts/prose/render'
import { finderOf } from '@/parts/terms/glossary'

describe('prose', () => {
  it('sets formulas and keeps the words around them', () => {
    const html = render('The step lies at $\\lambda = 1$ and **only** there.')
    expect(html).toContain('katex')
    expect(html).toContain('<strong>only</strong>')
  })
  it('never lets HTML of a text through', () => {
    expect(render('<script>alert(1)</script>')).not.toContain('<script>')
  })
  it('shows the source of a broken formula and keeps the text around it', () => {
    expect(render('before $\\frac{1$ after')).toMatch(/before .*\$\\frac\{1\$.* after/)
  })
  it.each([
    ['too long', `$${'x+'.repeat(2000)}x$`],
    ['too deep', `$${'\\sqrt{'.repeat(400)}x${'}'.repeat(400)}$`],
    ['expanding without end', '$\\def\\a{\\a\\a}\\a$'],
    ['with a link that runs', '$\\href{javascript:alert(1)}{x}$'],
  ])('never blanks the text for a formula that is %s', (_, formula) => {
    const html = render(`before ${formula} after`)
    expect(html).toContain('before')
    expect(html).toContain('after')
    expect(html).not.toContain('href=')
  })
  it('answers a deeply nested text within a moment', () => {
    const start = performance.now()
    expect(render('> '.repeat(5000) + 'words')).toContain('words')
    expect(render('['.repeat(5000) + 'words')).toContain('words')
    expect(render('*a '.repeat(5000))).toContain('a')
    expect(performance.now() - start).toBeLessThan(4000)
  })
  it('marks words of the glossary once, and leaves formulas and code alone', () => {
    const trim = { term: 'Total trim', full: 'both trims together', means: 'Not their sum.', page: '', also: [] }
    const html = render('**Total trim** is `total trim`, $total trim$; total trim again.', finderOf([trim]))
    expect(html.match(/class="term"/g)).toHaveLength(1)
    expect(html).toContain('<strong><span class="term" tabindex="0" data-term="Total trim">Total trim</span></strong>')
    expect(render('a <b>total trim</b>', finderOf([trim]))).not.toContain('<b>')
  })
  it('does not confuse its own marks with those of a text', () => {
    expect(render('a \uE0000\uE001 b $x$')).toContain('katex')
  })
})
