export { dialledStandIn as standIn } from '../dialled-stand-in.ts';
