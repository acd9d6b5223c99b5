// The stages in the order of the work, as the rail names them.
export const stageNames = [
  { name: 'path', title: 'Path' },
  { name: 'device', title: 'Device' },
  { name: 'voltage', title: 'Voltage' },
  { name: 'cells', title: 'Cells' },
  { name: 'brick', title: 'Brick' },
  { name: 'protection', title: 'Protection' },
  { name: 'charging', title: 'Charging' },
  { name: 'wiring', title: 'Wiring' },
  { name: 'run', title: 'Run' },
] as const

/** Pages of a plan that belong to no stage. */
export const pageNames = [
  { name: 'propose', title: 'Whole plans' },
  { name: 'diagram', title: 'Diagram' },
  { name: 'bill', title: 'Parts list' },
  { name: 'build', title: 'Build' },
  { name: 'made', title: 'Packs and logs' },
  { name: 'odd', title: 'Something is odd' },
  { name: 'later', title: 'What could go wrong' },
] as const
