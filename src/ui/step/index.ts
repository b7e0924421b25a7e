export { StepShell } from './shell';
export { STEPS, type Step } from './steps';
export { Unbuilt } from './unbuilt';
