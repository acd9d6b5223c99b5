// What a meter should show at a probe, in words.
import type { Probe } from '../api/types'
import { show } from '../format/show'

export const reads = (probe: Probe) =>
  probe.usual || (probe.reads_v == null ? 'nothing steady' : show(probe.reads_v, 'v'))
