const DAY = 86_400_000

/** Of the places on an axis that a short time offers by the hour, those that begin a day: only days are written there. */
export function wholeDays(places: readonly Date[]): Date[] {
  return places.filter((place) => place.getTime() % DAY === 0)
}
