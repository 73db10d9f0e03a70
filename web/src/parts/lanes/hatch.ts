import type uPlot from 'uplot'

/** Hatch a band within a stretch of time on a lane's canvas: what healthy engines show there. */
export function hatchBand(plot: uPlot, from: number, to: number, low: number, high: number, colour: string): void {
  const { ctx, bbox } = plot
  const left = Math.max(plot.valToPos(from, 'x', true), bbox.left)
  const right = Math.min(plot.valToPos(to, 'x', true), bbox.left + bbox.width)
  const top = Math.max(plot.valToPos(high, 'y', true), bbox.top)
  const bottom = Math.min(plot.valToPos(low, 'y', true), bbox.top + bbox.height)
  if (right <= left || bottom < top) return
  const height = Math.max(bottom - top, 3 * devicePixelRatio)
  ctx.save()
  ctx.beginPath()
  ctx.rect(left, top, right - left, height)
  ctx.clip()
  ctx.strokeStyle = colour
  ctx.globalAlpha = 0.5
  ctx.lineWidth = devicePixelRatio
  ctx.beginPath()
  const step = 5 * devicePixelRatio
  for (let x = left - height; x < right + height; x += step) {
    ctx.moveTo(x, top + height)
    ctx.lineTo(x + height, top)
  }
  ctx.stroke()
  ctx.globalAlpha = 0.9
  ctx.strokeRect(left, top, right - left, height)
  ctx.restore()
}
