import { lineAddress } from './lineSource'

describe('the address of a source of lines', () => {
  it.each([
    ['192.168.4.1:5190', { host: '192.168.4.1', port: 5190 }],
    [' tcp://logger.local:5190 ', { host: 'logger.local', port: 5190 }],
    ['[fe80::1]:80', { host: 'fe80::1', port: 80 }],
    ['/dev/ttyUSB0', { path: '/dev/ttyUSB0', baud: 9600 }],
    ['/dev/serial/by-id/usb-0403_6001-if00', { path: '/dev/serial/by-id/usb-0403_6001-if00', baud: 9600 }],
    ['/dev/pts/3', { path: '/dev/pts/3', baud: 9600 }],
    ['/dev/cu.usbserial-14', { path: '/dev/cu.usbserial-14', baud: 9600 }],
    ['COM3', { path: 'COM3', baud: 9600 }],
  ])('%j is one', (text, told) => expect(lineAddress(text, 9600)).toEqual(told))

  it.each([
    '/dev/sda',
    '/dev/mem',
    '/dev/tty/../sda',
    '/etc/passwd',
    'host',
    'host:0',
    'host:70000',
    '',
    'http://x:1/y',
  ])('%j is none: no other file of the machine is opened', (text) =>
    expect(() => lineAddress(text, 9600)).toThrow(/a host and a port/),
  )
})
