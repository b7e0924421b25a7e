/** What an AR device knows: frames of a capture, whoever makes them. */
export { type CaptureCamera, type CaptureFrame, MIRROR_CAMERA, simulateCapture } from './frame';
