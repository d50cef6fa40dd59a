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
