import { NAME_STRIP } from './laneScale';

/**
 * What clips look like, as rules of the lanes around them: hundreds of clips are drawn again with every step of a zoom, and
 * plain elements cost least.
 */
export const clipStyles = {
  '& .clip': {
    position: 'absolute',
    top: 0,
    overflow: 'hidden',
    borderRadius: 0.5,
    border: '1px solid',
    borderColor: 'divider',
    cursor: 'grab',
    '&:focus-visible': { outlineOffset: -3 },
    '&[aria-selected=true]': {
      borderColor: 'text.primary',
      boxShadow: 'inset 0 0 0 1px var(--mui-palette-text-primary)',
    },
  },
  '& .clip-strip': {
    height: NAME_STRIP - 1,
    px: 0.75,
    display: 'flex',
    gap: 1,
    justifyContent: 'space-between',
    fontSize: 11,
    lineHeight: `${NAME_STRIP - 1}px`,
    whiteSpace: 'nowrap',
    overflow: 'hidden',
    bgcolor: 'sheet.band',
    color: 'text.primary',
  },
  '& [aria-selected=true] > .clip-strip': { bgcolor: 'text.primary', color: 'background.paper' },
  '& .clip-name': { overflow: 'hidden', textOverflow: 'ellipsis' },
  '& .clip-edge': {
    position: 'absolute',
    top: 0,
    bottom: 0,
    width: 6,
    cursor: 'col-resize',
    zIndex: 2,
    '&:hover': { bgcolor: 'text.secondary', opacity: 0.5 },
    '&[data-edge=start]': { left: 0 },
    '&[data-edge=end]': { right: 0 },
  },
  '& .clip-note': {
    position: 'absolute',
    left: 6,
    bottom: 4,
    fontSize: 11,
    color: 'text.secondary',
    pointerEvents: 'none',
  },
  '& .waterline': {
    position: 'absolute',
    left: 0,
    right: 0,
    height: 14,
    cursor: 'ns-resize',
    touchAction: 'none',
  },
  '& .waterline-line': { position: 'absolute', left: 0, right: 0, height: 2 },
  '& .waterline-text': {
    position: 'absolute',
    left: 26,
    fontSize: 11,
    lineHeight: '14px',
    whiteSpace: 'nowrap',
    color: 'text.primary',
    bgcolor: 'background.paper',
    px: 0.5,
    borderRadius: 0.5,
    opacity: 0.94,
  },
} as const;
