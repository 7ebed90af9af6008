/** @module helpers/moon */
const month = 29.530588

export const moonPhase = (date: Date) => ((date.getTime() / 86400000 - 10.26) % month) / month
