export const isName = (text: string) => text.trim().length > 1
