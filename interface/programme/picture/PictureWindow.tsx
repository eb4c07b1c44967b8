'use client';

import CloseIcon from '@mui/icons-material/Close';
import MoveIcon from '@mui/icons-material/OpenWith';
import SizeIcon from '@mui/icons-material/AspectRatio';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { NumberField } from '../../editing/NumberField';
import { useGesture } from '../../editing/useGesture';
import { useSession } from '../../session/SessionContext';
import { PickFiles } from '../../ui/PickFiles';
import { changeView, PICTURE_WIDTHS, useViewSettings, viewNow } from '../viewSettings';
import { usePicture } from './usePicture';

const FILMS = 'video/*,.mp4,.m4v,.mov,.mkv,.webm';
/** A press of an arrow moves it so far, CSS pixels. */
const STEP = 24;
/** So much of it stays on the screen. */
const LEAST = 80;
/** A film may begin so long before or after the programme, seconds. */
const MOST_OFFSET = 86_400;

const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ...{ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] },
};

/** Places it within what is seen. */
function moveTo(x: number, y: number): void {
  const { picture } = viewNow();
  const within = (value: number, most: number): number =>
    Math.round(Math.min(Math.max(0, value), Math.max(0, most - LEAST)));
  changeView({
    picture: { ...picture, x: within(x, window.innerWidth), y: within(y, window.innerHeight) },
  });
}

/** A film as an address for the page, for as long as it is shown. */
function useAddress(file: File | null): string | null {
  const [address, setAddress] = useState<{ file: File; url: string } | null>(null);
  useEffect(() => {
    if (!file) return;
    const url = URL.createObjectURL(file);
    // eslint-disable-next-line react-hooks/set-state-in-effect -- an address is made and given back, not derived
    setAddress({ file, url });
    return () => URL.revokeObjectURL(url);
  }, [file]);
  return address?.file === file ? address.url : null;
}

/** The picture at the playhead, in a small window that can be moved and put away. */
export function PictureWindow() {
  const session = useSession();
  const { picture } = useViewSettings();
  const video = useRef<HTMLVideoElement>(null);
  const { shown, reference, hasFilms } = usePicture(video);
  const address = useAddress(shown);
  const [unseen, setUnseen] = useState<File | null>(null);
  const drag = useGesture((event) => {
    const { x, y } = viewNow().picture;
    const [left, top] = [event.clientX - x, event.clientY - y];
    return {
      move: (to) => moveTo(to.clientX - left, to.clientY - top),
      finish: () => undefined,
      cancel: () => moveTo(x, y),
    };
  });
  const onKey = (event: KeyboardEvent): void => {
    const way = ARROWS[event.key];
    if (!way) return;
    event.preventDefault();
    event.stopPropagation();
    moveTo(picture.x + way[0] * STEP, picture.y + way[1] * STEP);
  };
  const next = PICTURE_WIDTHS[(PICTURE_WIDTHS.indexOf(picture.width) + 1) % PICTURE_WIDTHS.length]!;
  const nothing = unseen === shown && shown !== null;
  const told = nothing
    ? `${shown.name} holds no picture that this browser can show.`
    : shown
      ? null
      : hasFilms
        ? 'No clip with a picture lies at the playhead.'
        : 'Films that are added as sources show their picture here. It is not saved with the project: after a reload, select the film again.';
  return (
    <Box
      component="section"
      aria-label="Picture"
      data-picture={shown?.name ?? ''}
      sx={{
        ...{ position: 'fixed', zIndex: 'drawer', bgcolor: 'background.paper', border: 1, borderRadius: 1 },
        ...{ borderColor: 'divider', boxShadow: 3, display: 'flex', flexDirection: 'column', minWidth: 0 },
      }}
      style={{ left: picture.x, top: picture.y, width: picture.width }}
    >
      <Box
        {...drag()}
        sx={{ display: 'flex', alignItems: 'center', pl: 0.5, cursor: 'move', touchAction: 'none' }}
      >
        <Tooltip title="Move the picture: drag, or arrow keys">
          <IconButton size="small" aria-label="Move the picture (arrow keys)" onKeyDown={onKey}>
            <MoveIcon sx={{ fontSize: 16 }} />
          </IconButton>
        </Tooltip>
        <Box
          title={shown?.name}
          sx={{ flex: 1, minWidth: 0, fontSize: 12, overflow: 'hidden', whiteSpace: 'nowrap' }}
          style={{ textOverflow: 'ellipsis' }}
        >
          {shown?.name ?? 'Picture'}
        </Box>
        <Tooltip title="Another size">
          <IconButton
            size="small"
            aria-label={`Make the picture ${next} pixels wide`}
            onClick={() => changeView({ picture: { ...picture, width: next } })}
          >
            <SizeIcon sx={{ fontSize: 16 }} />
          </IconButton>
        </Tooltip>
        <IconButton
          size="small"
          aria-label="Put the picture away"
          onClick={() => changeView({ picture: { ...picture, shown: false } })}
        >
          <CloseIcon sx={{ fontSize: 16 }} />
        </IconButton>
      </Box>
      <Box sx={{ position: 'relative', aspectRatio: '16 / 9', bgcolor: 'sheet.lane' }}>
        <video
          ref={video}
          src={address ?? undefined}
          muted
          playsInline
          preload="auto"
          aria-label={shown ? `Picture of ${shown.name} at the playhead` : 'No picture'}
          onLoadedMetadata={({ currentTarget }) => setUnseen(currentTarget.videoWidth === 0 ? shown : null)}
          onError={() => address && setUnseen(shown)}
          style={{ width: '100%', height: '100%', display: 'block', visibility: told ? 'hidden' : 'visible' }}
        />
        {told && (
          <Box
            role="status"
            sx={{
              ...{ position: 'absolute', inset: 0, display: 'grid', placeItems: 'center', p: 1.5 },
              ...{ fontSize: 12.5, color: 'text.secondary', textAlign: 'center' },
            }}
          >
            {told}
          </Box>
        )}
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, p: 0.75, flexWrap: 'wrap' }}>
        <PickFiles
          label={reference ? 'Another film…' : 'Select a film…'}
          multiple={false}
          variant="text"
          accept={FILMS}
          icon={null}
          onFiles={([file]) => session.pictures.refer(file!)}
        />
        {reference && (
          <>
            <NumberField
              label="Begins at (s)"
              value={reference.begins}
              range={{ name: 'Begins at', min: -MOST_OFFSET, max: MOST_OFFSET, unit: 's' }}
              onValue={(begins) => session.pictures.refer(reference.file, begins)}
            />
            <Button color="inherit" onClick={() => session.pictures.refer(null)}>
              Those of the clips
            </Button>
          </>
        )}
      </Box>
    </Box>
  );
}
