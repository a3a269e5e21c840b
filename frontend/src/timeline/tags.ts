/** The colours a layer's row can be tagged with. */
export const TAGS = [
  ["none", "transparent"],
  ["rust", "#b5532a"],
  ["ochre", "#c9952c"],
  ["moss", "#5f8a4a"],
  ["sea", "#2f8089"],
  ["heather", "#8a6a9e"],
] as const;

export const tagColor = (tag: (typeof TAGS)[number][0]) => TAGS.find(([name]) => name === tag)?.[1];
