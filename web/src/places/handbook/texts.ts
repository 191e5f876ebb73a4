/** What stands around the pages of the handbook. */
export const texts = {
  title: 'Handbook',
  search: 'Search the handbook',
  pages: 'Pages of the handbook',
  noPage: 'There is no such page. Choose one at the side.',
  found: 'Found',
  nothing: 'Nothing of it stands in the handbook.',
  sections: 'On this page',
} as const
