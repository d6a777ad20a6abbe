import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'

/** A laptop with a capture stick in it, laid out like /sys: what the server reads as this very computer. */
export function machine(at: string): string {
  const put = (dir: string, files: Record<string, string | Buffer>) => {
    mkdirSync(join(at, dir), { recursive: true })
    for (const [name, what] of Object.entries(files)) writeFileSync(join(at, dir, name), what)
  }
  const bus = { busnum: '1\n', devnum: '1\n', maxchild: '4\n', serial: '0000:00:14.0\n' }
  put('class/dmi/id', { chassis_type: '10\n' })
  put('bus/usb/devices/usb1', { ...bus, speed: '480\n' })
  put('bus/usb/devices/usb2', { ...bus, busnum: '2\n', speed: '5000\n' })
  // A device and one interface of pictures, with an isochronous endpoint.
  const video = Buffer.from([
    ...[18, 1, 0, 2, 0xef, 2, 1, 64, 0, 0, 0, 0, 0, 0, 0, 0, 0, 1],
    ...[9, 4, 1, 7, 1, 14, 2, 0, 0],
    ...[7, 5, 0x83, 5, 0, 0x14, 1],
  ])
  put('bus/usb/devices/2-2', {
    ...{ busnum: '2\n', devnum: '2\n', speed: '5000\n', maxchild: '0\n', product: 'Full-HD stick\n' },
    ...{ bMaxPower: '500mA\n', bmAttributes: '80\n', descriptors: video },
  })
  return at
}
