/** What a list to choose from says for each of its values. */
export const choicesOf = <V extends string>(labels: Readonly<Record<V, string>>) =>
  (Object.keys(labels) as V[]).map((value) => ({ value, label: labels[value] }))
