// What members asked for, until it has a place of its own.
export const ideas = ['a map of light pollution', 'a bell for the aurora']
