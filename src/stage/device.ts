import { DEVICES, type Device } from '@/core/detail/device';

export function device(name: Device['name']): Device {
  return DEVICES.find((one) => one.name === name)!;
}

/** What the page runs on, as far as one can tell at once. */
export function deviceByPointer(): Device {
  return device(matchMedia('(pointer: coarse)').matches ? 'phone' : 'laptop');
}

/**
 * Whether the page runs on a headset of its own: it shows pictures around its wearer, and has no fine pointer as a computer
 * with a headset beside it has.
 */
export async function isHeadset(): Promise<boolean> {
  if (matchMedia('(pointer: fine)').matches) return false;
  return (await navigator.xr?.isSessionSupported('immersive-vr')) ?? false;
}

/** Names under which graphics cards go that are none: the processor draws in their place. */
const SOFTWARE = /swiftshader|llvmpipe|softpipe|basic render|software/i;

let inSoftware: boolean | undefined;

/**
 * Whether the processor draws, as on a remote desktop: then every sample of a pixel takes time that one feels. Asking
 * makes a context, so it is asked once a page.
 */
export function drawsInSoftware(): boolean {
  if (inSoftware === undefined) {
    const gl = new OffscreenCanvas(1, 1).getContext('webgl2');
    const names = gl?.getExtension('WEBGL_debug_renderer_info');
    const name: unknown = gl?.getParameter(names ? names.UNMASKED_RENDERER_WEBGL : gl.RENDERER);
    gl?.getExtension('WEBGL_lose_context')?.loseContext();
    inSoftware = SOFTWARE.test(String(name));
  }
  return inSoftware;
}
