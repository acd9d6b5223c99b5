// The parts of the work, as the list of steps names them.
import type { BuildStep } from '../api/types'

export const phaseNames: Record<BuildStep['phase'], string> = {
  apart: 'Take apart',
  arrival: 'Parts on arrival',
  cells: 'Cells',
  brick: 'Brick',
  board: 'Board',
  leads: 'Leads',
  first_power: 'First power',
  first_charge: 'First charge',
  hand_over: 'Hand over',
}
