/**
 * The room that metals reflect: a sky, a floor and three soft panels, written as a formula into three's own shaders.
 * A filtered reflection map would cost a software renderer several seconds before its first picture; this costs none.
 */
import { ShaderChunk } from 'three';

const ROOM = /* glsl */ `
#if defined( STANDARD )
float roomPanel( vec3 d, vec3 at, float size, float rough ) {
  float soft = 0.10 + 0.9 * rough;
  float a = acos( clamp( dot( d, normalize( at ) ), -1.0, 1.0 ) );
  // a blurred panel is wider and dimmer by as much
  float dim = ( size * size ) / ( ( size + 0.5 * soft ) * ( size + 0.5 * soft ) );
  return dim * smoothstep( size + soft, max( 0.0, size - 0.5 * soft ), a );
}
vec3 roomRadiance( vec3 d, float rough ) {
  float edge = mix( 0.25, 0.9, rough );
  vec3 c = mix( vec3( 0.20, 0.165, 0.13 ), vec3( 0.52, 0.58, 0.61 ), smoothstep( - edge, edge, d.y + 0.05 ) );
  c += vec3( 4.6, 4.2, 3.6 ) * roomPanel( d, vec3( - 0.7, 0.75, 0.75 ), 0.42, rough );
  c += vec3( 2.0, 2.4, 2.7 ) * roomPanel( d, vec3( 0.95, 0.35, 0.35 ), 0.36, rough );
  c += vec3( 1.4, 1.6, 1.8 ) * roomPanel( d, vec3( 0.4, 0.6, - 1.0 ), 0.5, rough );
  return c;
}
#endif
`;

const REFLECT = /* glsl */ `
#if defined( RE_IndirectSpecular ) && defined( STANDARD ) && ! defined( USE_ENVMAP )
  {
    vec3 roomDirection = normalize( mix( reflect( - geometryViewDir, geometryNormal ), geometryNormal, material.roughness * material.roughness ) );
    radiance += 0.8 * roomRadiance( inverseTransformDirection( roomDirection, viewMatrix ), material.roughness );
    #ifdef USE_CLEARCOAT
      clearcoatRadiance += 0.8 * roomRadiance( inverseTransformDirection( reflect( - geometryViewDir, geometryClearcoatNormal ), viewMatrix ), material.clearcoatRoughness );
    #endif
    iblIrradiance += 0.25 * PI * roomRadiance( inverseTransformDirection( geometryNormal, viewMatrix ), 1.0 );
  }
#endif
`;

let built = false;
/** Adds the room to every standard material compiled from now on. Does nothing the second time. */
export function buildRoom(): void {
  if (built) return;
  built = true;
  ShaderChunk.lights_physical_pars_fragment += ROOM;
  ShaderChunk.lights_fragment_maps += REFLECT;
}
