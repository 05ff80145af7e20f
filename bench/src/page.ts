/** What is measured inside the page. It brings nothing along but its argument, since it is sent there as text. */
export async function previewInThePage({
  built,
  hands,
  stacks,
  run,
  warm,
}: {
  built: { worker: string; kernels: string };
  hands: number;
  stacks: unknown[];
  /** Frames that follow each other, and runs of them that do not count. */
  run: number;
  warm: number;
}): Promise<{ ours: number[]; canvas: number[] }> {
  const [width, height] = [1536, 1024];
  // Slow changes of tone and colour, with grain on them.
  const tone = (i: number) => 128 + 90 * Math.sin(i / 260_000 + (i % 3)) * Math.cos((i % (3 * width)) / 500);
  const grain = (i: number) => (Math.imul(i ^ (i >>> 9), 0x9e3779b1) >>> 24) / 8 - 16;
  const pixels = new Uint8Array(width * height * 3).map((_, i) => tone(i) + grain(i));
  const picture = new ImageData(width, height);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 4; c++) picture.data[4 * i + c] = c === 3 ? 255 : (pixels[3 * i + c] as number);

  const module = await WebAssembly.compileStreaming(fetch(built.kernels));
  const memory = new WebAssembly.Memory({ initial: 16, maximum: 16384, shared: true });
  const workers = Array.from({ length: hands }, () => new Worker(built.worker, { type: 'module' }));
  const lead = workers[0] as Worker;
  const helpers = workers.slice(1).map((worker, i) => {
    const { port1, port2 } = new MessageChannel();
    worker.postMessage({ type: 'assist', module, memory, part: i + 1, parts: hands, lead: port1 }, [port1]);
    return port2;
  });
  const answer = (type: string) =>
    new Promise<{ pixels: Uint8Array }>((resolve) => {
      lead.onmessage = ({ data }) => data.type === type && resolve(data);
    });
  const ready = answer('ready');
  lead.postMessage({ type: 'begin', module, memory, helpers }, helpers);
  await ready;
  lead.postMessage({ type: 'open', slot: 'photo', layout: { width, height, depth: 8, channels: 3 }, bytes: pixels });

  const ink = () =>
    Object.assign(document.createElement('canvas'), { width, height }).getContext('2d', { willReadFrequently: true }) as CanvasRenderingContext2D;
  const [base, lifted, out] = [ink(), ink(), ink()];
  base.putImageData(picture, 0, 0);
  const shown = new ImageData(width, height);
  const times: { ours: number[]; canvas: number[] } = { ours: [], canvas: [] };
  // As the page does: the next frame is asked for as soon as one is there, which is brought to the screen meanwhile.
  const byUs = async (frames: unknown[]) => {
    const ask = (id: number) => {
      const rendered = answer('rendered');
      lead.postMessage({ type: 'render', slot: 'photo', id, stack: frames[id], format: 'screen' });
      return rendered;
    };
    let next = ask(0);
    for (let id = 1; id <= frames.length; id++) {
      const { pixels: made } = await next;
      if (id < frames.length) next = ask(id);
      shown.data.set(made);
      out.putImageData(shown, 0, 0);
    }
  };
  const byCanvas = () => {
    Object.assign(lifted, { globalCompositeOperation: 'copy' }).drawImage(base.canvas, 0, 0);
    Object.assign(lifted, { globalCompositeOperation: 'screen' }).drawImage(base.canvas, 0, 0);
    Object.assign(out, { globalCompositeOperation: 'copy', globalAlpha: 1 }).drawImage(lifted.canvas, 0, 0);
    Object.assign(out, { globalCompositeOperation: 'multiply', globalAlpha: 0.6, filter: 'blur(8px)' }).drawImage(lifted.canvas, 0, 0);
    out.filter = 'none';
    out.getImageData(0, 0, 1, 1);
  };
  /** Time for each of some frames. */
  const timed = async (all: number[], job: () => Promise<void> | void) => {
    const start = performance.now();
    await job();
    all.push((performance.now() - start) / run);
  };
  // As in a drag, one frame follows the other: some of ours, then as many of the canvas.
  for (let i = 0; i < stacks.length; i += run) {
    const frames = stacks.slice(i, i + run);
    await timed(times.ours, () => byUs(frames));
    await timed(times.canvas, () => frames.forEach(byCanvas));
  }
  workers.forEach((worker) => worker.terminate());
  return { ours: times.ours.slice(warm), canvas: times.canvas.slice(warm) };
}
