// What every chart shares: its ink in the theme that is on, and how its lines and axes are drawn.
import { theme } from '../state/preferences'

/** A colour of the style sheet. Read again when the theme changes: a chart cannot follow style variables by itself. */
export const colour = (name: string): string =>
  theme.value ? getComputedStyle(document.documentElement).getPropertyValue(name) : ''

/** Text of a chart, or of its tooltip, which always stands on white. */
const chartText = () => ({
  fontFamily: 'Atkinson Hyperlegible Next',
  color: colour('--ink'),
  fontSize: 13,
})
export const tooltipText = () => ({ ...chartText(), color: '#1e2422' })

/** What stands round the lines: room for the axes, the legend above. */
export const frame = (grid: { left: number; right: number; top: number; bottom: number }) => ({
  animation: false,
  textStyle: chartText(),
  grid,
  legend: { top: 0, left: 40, textStyle: chartText(), itemHeight: 2 },
})

/** An axis of values. */
export const valueAxis = (name: string) => ({
  type: 'value',
  name,
  nameTextStyle: { ...chartText(), color: colour('--soft') },
  axisLabel: { color: colour('--soft') },
  splitLine: { lineStyle: { color: colour('--line') } },
})

/** The axis of time, named below it; its last label would hang over the edge. */
export const timeAxis = (name: string, max?: number) => ({
  ...valueAxis(name),
  nameLocation: 'middle',
  nameGap: 26,
  max,
  axisLabel: {
    color: colour('--soft'),
    hideOverlap: true,
    showMaxLabel: max == null,
    formatter: (v: number) => String(Math.round(v * 100) / 100),
  },
})

/** A line without marks at its points. */
export const trace = (
  name: string,
  tone: string,
  data: [number, number | null | undefined][],
  type: 'solid' | 'dotted' | 'dashed' = 'solid',
  width = 2,
) => ({
  name,
  type: 'line',
  showSymbol: false,
  lineStyle: { width, color: colour(tone), type },
  itemStyle: { color: colour(tone) },
  data,
})

/** Upright marks over a line: where something happened. */
export const marks = (at: { xAxis: number; words: string }[]) => ({
  symbol: 'none',
  silent: true,
  lineStyle: { color: colour('--ink'), type: 'dashed' },
  data: at.map(({ xAxis, words }) => ({
    xAxis,
    label: { formatter: words, color: colour('--ink'), position: 'insideEndBottom' },
  })),
})
