/** The boxes of clips, as a rule of the lanes around them: they show the focus only, all else of a clip is drawn. */
export const clipStyles = {
  '& .clip': {
    position: 'absolute',
    top: 0,
    overflow: 'hidden',
    borderRadius: 0.5,
    '&:focus-visible': { outlineOffset: -3 },
  },
} as const;
