// What can be seen tonight, in one sentence.
export const tonight = 'the Moon'
