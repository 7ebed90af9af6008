export const shortDate = (date: Date) => date.toISOString().slice(0, 10)
