/** The Khronos validator's messages in plain sentences. */
import type { Finding } from '../findings';
import { finding } from './context';

/** One message of the Khronos validator, as its report gives it. */
export interface ValidatorIssue {
  code: string;
  message: string;
  /** 0 error, 1 warning, 2 information, 3 hint. */
  severity: number;
  pointer?: string;
}

/** What the commoner messages mean to an artist. The validator's own words follow in brackets. */
const PLAIN: Readonly<Record<string, string>> = {
  ACCESSOR_INDEX_OOB: 'Triangles name vertices that are not there',
  ACCESSOR_INDEX_TRIANGLE_DEGENERATE: 'Some triangles have two corners at the same vertex',
  ACCESSOR_INDEX_PRIMITIVE_RESTART: 'An index uses the value kept for “start a new strip”',
  ACCESSOR_INVALID_FLOAT: 'Some numbers are not a number or infinite',
  ACCESSOR_MAX_MISMATCH: 'The bounds written in the file are not those of its vertices; viewers frame it wrongly',
  ACCESSOR_MIN_MISMATCH: 'The bounds written in the file are not those of its vertices; viewers frame it wrongly',
  ACCESSOR_ELEMENT_OUT_OF_MAX_BOUND: 'Some vertices lie outside the bounds written in the file',
  ACCESSOR_ELEMENT_OUT_OF_MIN_BOUND: 'Some vertices lie outside the bounds written in the file',
  ACCESSOR_NON_UNIT: 'Some normals or tangents are not of length 1',
  ACCESSOR_VECTOR3_NON_UNIT: 'Some normals or tangents are not of length 1',
  ACCESSOR_INVALID_SIGN: 'Some tangents have no side: their fourth number is neither 1 nor −1',
  ACCESSOR_WEIGHTS_NON_NORMALIZED: 'Some bone weights do not sum to 1',
  ACCESSOR_JOINTS_INDEX_OOB: 'Vertices name bones that the skin does not have',
  ACCESSOR_JOINTS_USED_ZERO_WEIGHT: 'Vertices name bones that have no weight there',
  ACCESSOR_ANIMATION_INPUT_NON_INCREASING: 'The times of a clip do not rise',
  ACCESSOR_TOO_LONG: 'An accessor reaches past the end of its data',
  ACCESSOR_OFFSET_ALIGNMENT: 'Numbers do not begin where their size asks for it',
  BUFFER_VIEW_TOO_LONG: 'A buffer view reaches past the end of its buffer',
  BUFFER_BYTE_LENGTH_MISMATCH: 'A buffer is not as long as the file says',
  BUFFER_GLB_CHUNK_TOO_BIG: 'The binary chunk is longer than the file says',
  GLB_LENGTH_MISMATCH: 'The length written in the file is not its own',
  IMAGE_DATA_INVALID: 'A picture is broken',
  IMAGE_MIME_TYPE_INVALID: 'A picture is not of the kind it says it is',
  IMAGE_UNRECOGNIZED_FORMAT: 'A picture is of a kind that glTF does not know',
  IMAGE_UNEXPECTED_EOS: 'A picture ends half way',
  INVALID_EXTENSION_NAME_FORMAT: 'An extension has a name that no standard allows',
  INVALID_URI: 'A file name in the glTF cannot be read',
  MESH_PRIMITIVE_INDEXED_SEMANTIC_CONTINUITY: 'Vertex data are numbered with gaps',
  MESH_PRIMITIVE_JOINTS_WEIGHTS_MISMATCH: 'Bone numbers and bone weights do not come in pairs',
  MESH_PRIMITIVE_NO_POSITION: 'A shape has no vertex positions',
  MESH_PRIMITIVE_TANGENT_WITHOUT_NORMAL: 'Tangents are there without normals',
  MESH_PRIMITIVE_TOO_FEW_TEXCOORDS: 'A material asks for UVs that its shape does not have',
  MESH_PRIMITIVE_UNEQUAL_ACCESSOR_COUNT: 'The vertex data of a shape are of different lengths',
  NODE_LOOP: 'A node is its own ancestor',
  NODE_MATRIX_TRS: 'A node has both a matrix and a place, turn or size',
  NODE_MATRIX_NON_TRS: 'A node’s matrix shears: it cannot be told as place, turn and size',
  NODE_SKIN_WITH_NON_SKINNED_MESH: 'A node has bones, its shape has no weights',
  ROTATION_NON_UNIT: 'A turn is not of length 1',
  SCENE_NON_ROOT_NODE: 'The scene lists a node that lies under another',
  TYPE_MISMATCH: 'A value is of the wrong type',
  UNDEFINED_PROPERTY: 'Something that must be there is missing',
  UNEXPECTED_PROPERTY: 'There is something that does not belong there',
  UNRESOLVED_REFERENCE: 'Something is named that is not in the file',
  UNSATISFIED_DEPENDENCY: 'Something is used without what it needs',
  UNDECLARED_EXTENSION: 'An extension is used that the file does not announce',
  VALUE_NOT_IN_LIST: 'A value is not one of those allowed',
  VALUE_NOT_IN_RANGE: 'A value is outside what is allowed',
  INVALID_INDEX: 'A number that should name something is no such number',
  EMPTY_ENTITY: 'Something is there but empty',
  ARRAY_LENGTH_NOT_IN_LIST: 'A list is of the wrong length',
  ARRAY_TYPE_MISMATCH: 'A list holds values of the wrong type',
  IO_ERROR: 'A file that belongs to it could not be read',
};

/** Said already, more precisely, by checks of our own; or of no consequence to the model. */
const SAID_ELSEWHERE = new Set([
  'IO_ERROR',
  'ACCESSOR_INDEX_TRIANGLE_DEGENERATE',
  'UNUSED_OBJECT',
  'UNUSED_MESH_WEIGHTS',
  'UNUSED_MESH_TANGENT',
  'MESH_PRIMITIVE_GENERATED_TANGENT_SPACE',
  'NODE_EMPTY',
  'IMAGE_NPOT_DIMENSIONS',
  'UNSUPPORTED_EXTENSION',
  'EXTRA_PROPERTY',
  'ACCESSOR_WEIGHTS_NON_NORMALIZED',
  'ACCESSOR_JOINTS_USED_ZERO_WEIGHT',
  'NODE_SKINNED_MESH_NON_ROOT',
  'NODE_SKINNED_MESH_LOCAL_TRANSFORMS',
]);

/** Errors as blockers, warnings as warnings, one of each code; hints and information are left to checks of our own. */
export function conformance(issues: readonly ValidatorIssue[]): Finding[] {
  const byCode = new Map<string, ValidatorIssue[]>();
  for (const issue of issues)
    if (issue.severity <= 1 && !SAID_ELSEWHERE.has(issue.code)) byCode.set(issue.code, [...(byCode.get(issue.code) ?? []), issue]);
  return [...byCode].map(([code, list]) => {
    const more = list.length > 1 ? ` (${list.length} places)` : '';
    const [{ message, severity, pointer }] = list;
    const plain = PLAIN[code] ? `${PLAIN[code]}${more}: ${message}` : `${message}${more}`;
    return finding(
      severity === 0 ? 'gltf/invalid' : 'gltf/doubtful',
      severity === 0 ? 'blocker' : 'warning',
      `${plain} [${code}]`,
      pointer,
    );
  });
}
