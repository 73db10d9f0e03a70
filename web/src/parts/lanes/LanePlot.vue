<script setup lang="ts">
import uPlot from 'uplot'
import 'uplot/dist/uPlot.min.css'
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { look } from '@/app/look'
import { tickText } from '@/format/units'
import { envelope, fitted, SCALE_WIDTH, type Range } from '@/parts/lanes/geometry'
import { hatchBand } from '@/parts/lanes/hatch'

/** One lane: values over time on a canvas, with its own scale; time range and cursor are shared with the other lanes. */
const props = defineProps<{
  time: number[]
  run: (number | null)[]
  good: (number | null)[] | null
  bands: { start: number; end: number; low: number; high: number }[]
  windows: { start: number; end: number }[]
  range: Range
  cursor: number
  height: number
  family: string
  layer: string
}>()
const emit = defineEmits<{ cursor: [time: number]; range: [range: Range] }>()

const box = ref<HTMLElement>()
let plot: uPlot | undefined
let sizeWatcher: ResizeObserver | undefined

/** Colours are looked up when the plot is built, not at every stroke: it is built anew when the look changes. */
const looked = new Map<string, string>()
function css(name: string): string {
  const known = looked.get(name) ?? getComputedStyle(document.documentElement).getPropertyValue(name).trim()
  looked.set(name, known)
  return known
}

function drawBackground(u: uPlot) {
  for (const band of props.bands) hatchBand(u, band.start, band.end, band.low, band.high, css('--text-faint'))
  const { ctx, bbox } = u
  ctx.save()
  ctx.strokeStyle = css('--rule')
  ctx.lineWidth = devicePixelRatio
  ctx.setLineDash([2 * devicePixelRatio, 3 * devicePixelRatio])
  for (const window of props.windows) {
    for (const edge of [window.start, window.end]) {
      const x = Math.round(u.valToPos(edge, 'x', true))
      if (x <= bbox.left || x >= bbox.left + bbox.width) continue
      ctx.beginPath()
      ctx.moveTo(x, bbox.top)
      ctx.lineTo(x, bbox.top + bbox.height)
      ctx.stroke()
    }
  }
  ctx.restore()
}

/** The scale holds what is visible of run, sound engine and band, with a little room. */
function visibleExtent(): [number, number] {
  let low = Infinity
  let high = -Infinity
  const take = (value: number | null | undefined) => {
    if (value === null || value === undefined) return
    if (value < low) low = value
    if (value > high) high = value
  }
  const [from, to] = fitted(props.windows, props.range)
  for (let k = 0; k < props.time.length; k += 1) {
    const t = props.time[k] ?? 0
    if (t < from || t > to) continue
    take(props.run[k])
    if (props.good) take(props.good[k])
  }
  for (const band of props.bands) {
    if (band.end < from + 0.01 || band.start > to - 0.01) continue
    take(band.low)
    take(band.high)
  }
  if (low > high) return [0, 1]
  const room = Math.max((high - low) * 0.08, Math.abs(high) * 0.01, 0.02)
  return [low - room, high + room]
}

/** Lines where lines can be seen; where a signal swings too fast for that over this range, its lower and upper edge. */
function data(): uPlot.AlignedData {
  const none = props.time.map(() => null)
  // Its own width: the box would be measured, and laid out for it, at every stroke of a running engine.
  const strokes = ((plot?.width ?? box.value?.clientWidth ?? 0) - SCALE_WIDTH) / 2
  const drawn = [props.good, props.run].map((values) => {
    const edges = values && envelope(props.time, values, props.range, strokes)
    return edges ? [none, edges.low, edges.high] : [values ?? none, none, none]
  })
  return [props.time, ...drawn.flat()] as uPlot.AlignedData
}

/** A colour that lets what is behind it through. */
function pale(colour: string, percent: number): string {
  return `color-mix(in srgb, ${colour} ${percent}%, transparent)`
}

function build() {
  if (!box.value) return
  plot?.destroy()
  looked.clear()
  const colour = css(`--${props.family}`)
  const dash = props.layer === 'truth' ? [2, 3] : undefined
  const font = `11px ${css('--font')}`
  plot = new uPlot(
    {
      width: box.value.clientWidth,
      height: props.height,
      padding: [5, 0, 3, 0],
      legend: { show: false },
      cursor: { y: false, points: { show: false }, drag: { x: true, y: false, setScale: false } },
      select: { show: true, left: 0, top: 0, width: 0, height: 0 },
      scales: { x: { time: false, range: () => props.range }, y: { range: () => visibleExtent() } },
      axes: [
        { show: false },
        {
          size: SCALE_WIDTH,
          font,
          stroke: css('--text-soft'),
          grid: { stroke: css('--surface-strong'), width: 1 },
          ticks: { show: false },
          // Its own would write 6.000 for six thousand in some countries.
          values: (_plot, splits) => splits.map(tickText),
          gap: 6,
          space: 22,
        },
      ],
      series: [
        {},
        { stroke: css('--text-soft'), width: 1, points: { show: false } },
        { stroke: css('--text-soft'), width: 1, points: { show: false } },
        { stroke: css('--text-soft'), width: 1, points: { show: false } },
        { stroke: colour, width: props.layer === 'pin' ? 1.2 : 2, dash, points: { show: false } },
        { stroke: colour, width: 1.2, dash, points: { show: false } },
        { stroke: colour, width: 1.2, dash, points: { show: false } },
      ],
      bands: [
        { series: [3, 2], fill: pale(css('--text-soft'), 14) },
        { series: [6, 5], fill: pale(colour, 26) },
      ],
      hooks: {
        drawClear: [drawBackground],
        // A new scale is in force only once it is drawn: the cursor finds its place then.
        draw: [placeCursor],
        setCursor: [
          (u) => {
            if (u.cursor.left !== undefined && u.cursor.left !== null && u.cursor.left >= 0 && fromPointer) {
              emit('cursor', u.posToVal(u.cursor.left, 'x'))
            }
          },
        ],
        setSelect: [
          (u) => {
            if (u.select.width < 6) return
            emit('range', [u.posToVal(u.select.left, 'x'), u.posToVal(u.select.left + u.select.width, 'x')])
            u.setSelect({ left: 0, top: 0, width: 0, height: 0 }, false)
          },
        ],
      },
    },
    data(),
    box.value,
  )
  plot.over.addEventListener('pointermove', () => (fromPointer = true))
  plot.over.addEventListener('pointerleave', () => {
    fromPointer = false
    placeCursor()
  })
  placeCursor()
}

let fromPointer = false

/** The cursor stays where it was left: keys and other lanes move it too. */
function placeCursor() {
  if (!plot || fromPointer) return
  plot.setCursor({ left: plot.valToPos(props.cursor, 'x'), top: 5 }, false)
}

onMounted(() => {
  build()
  sizeWatcher = new ResizeObserver(() => {
    if (plot && box.value && box.value.clientWidth > 0)
      plot.setSize({ width: box.value.clientWidth, height: props.height })
    placeCursor()
  })
  if (box.value) sizeWatcher.observe(box.value)
})
onBeforeUnmount(() => {
  sizeWatcher?.disconnect()
  plot?.destroy()
})

watch(() => [props.family, props.layer, props.height, look.value], build, { flush: 'post' })
watch(
  () => [props.run, props.good, props.bands, props.range],
  () => {
    plot?.setData(data())
    placeCursor()
  },
)
watch(() => props.cursor, placeCursor)
</script>

<template>
  <div ref="box" class="plot" :style="{ height: `${height}px` }"></div>
</template>

<style scoped>
.plot {
  min-width: 0;
}
.plot :deep(.u-cursor-x) {
  border-right: 1px solid var(--text);
}
.plot :deep(.u-select) {
  background: var(--accent);
  opacity: 0.12;
}
</style>
