export { StepShell } from './shell';
export { STEP_NAMES, STEPS, type Step } from './steps';
export { Unbuilt } from './unbuilt';
