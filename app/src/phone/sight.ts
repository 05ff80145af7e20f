/** From this height on, what covers the foot of the page is a keyboard. */
const KEYBOARD = 120;

/** Keeps the page within what the keyboard of a phone leaves of it, so that a field stays in sight with what belongs to it. Some browsers only push the page up. */
export function withinSight(): () => void {
  const seen = window.visualViewport;
  const root = document.getElementById('root');
  if (!seen || !root) return () => undefined;
  const fit = (): void => {
    const covered = window.innerHeight - seen.height > KEYBOARD && seen.scale < 1.05;
    root.style.height = covered ? `${seen.height}px` : '';
    if (covered) window.scrollTo(0, 0);
  };
  seen.addEventListener('resize', fit);
  return () => seen.removeEventListener('resize', fit);
}
