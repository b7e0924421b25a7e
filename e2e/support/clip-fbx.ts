/** An ASCII FBX of two bones and a clip, without a shape: the arm turns by a quarter in a second. Written by hand. */
export const CLIP_FBX = `; FBX 7.3.0 project file
FBXHeaderExtension:  {
 FBXHeaderVersion: 1003
 FBXVersion: 7300
}
GlobalSettings:  {
 Version: 1000
 Properties70:  {
  P: "UpAxis", "int", "Integer", "",1
  P: "UpAxisSign", "int", "Integer", "",1
  P: "FrontAxis", "int", "Integer", "",2
  P: "FrontAxisSign", "int", "Integer", "",1
  P: "CoordAxis", "int", "Integer", "",0
  P: "CoordAxisSign", "int", "Integer", "",1
  P: "UnitScaleFactor", "double", "Number", "",100
 }
}
Objects:  {
 Model: 1000, "Model::Hips", "LimbNode" {
  Version: 232
  Properties70:  {
   P: "Lcl Translation", "Lcl Translation", "", "A",0,1,0
  }
 }
 Model: 1001, "Model::Arm", "LimbNode" {
  Version: 232
  Properties70:  {
   P: "Lcl Translation", "Lcl Translation", "", "A",0,0.5,0
  }
 }
 AnimationStack: 2000, "AnimStack::Wave", "" {
  Properties70:  {
   P: "LocalStop", "KTime", "Time", "",46186158000
   P: "ReferenceStop", "KTime", "Time", "",46186158000
  }
 }
 AnimationLayer: 2001, "AnimLayer::Base", "" {
 }
 AnimationCurveNode: 2002, "AnimCurveNode::R", "" {
  Properties70:  {
   P: "d|X", "Number", "", "A",0
   P: "d|Y", "Number", "", "A",0
   P: "d|Z", "Number", "", "A",0
  }
 }
 AnimationCurve: 2003, "AnimCurve::", "" {
  Default: 0
  KeyVer: 4008
  KeyTime: *2 {
   a: 0,46186158000
  }
  KeyValueFloat: *2 {
   a: 0,90
  }
  KeyAttrFlags: *1 {
   a: 24836
  }
  KeyAttrDataFloat: *4 {
   a: 0,0,255790911,0
  }
  KeyAttrRefCount: *1 {
   a: 2
  }
 }
}
Connections:  {
 C: "OO",1000,0
 C: "OO",1001,1000
 C: "OO",2001,2000
 C: "OO",2002,2001
 C: "OP",2002,1001, "Lcl Rotation"
 C: "OP",2003,2002, "d|Z"
}
`;
