/** A point in time as a person writes it. */
export function moment(time: string): string {
  return new Date(time).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' })
}
