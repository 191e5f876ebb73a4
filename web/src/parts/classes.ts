/** Names of classes, some of which hold only now. */
export const classes = (...names: (string | false | undefined)[]): string => names.filter(Boolean).join(' ')
