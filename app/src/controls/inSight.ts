/** How far beyond the page's edge something counts as in sight. */
const NEAR = '120px';

const heard = new WeakMap<Element, (seen: boolean) => void>();
let watch: IntersectionObserver | undefined;

/** Tells whether an element is in sight, now and whenever that changes, until it is called off. Where the browser cannot say, it is. */
export function tellInSight(element: Element, told: (seen: boolean) => void): () => void {
  if (typeof IntersectionObserver === 'undefined') {
    told(true);
    return () => undefined;
  }
  watch ??= new IntersectionObserver((all) => all.forEach(({ target, isIntersecting }) => heard.get(target)?.(isIntersecting)), { rootMargin: NEAR });
  heard.set(element, told);
  watch.observe(element);
  return () => {
    heard.delete(element);
    watch?.unobserve(element);
    told(false);
  };
}
