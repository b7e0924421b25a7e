/** The fit sheet as a document to give away. */
export { PICTURE_SHAPE, type SheetAsked, type SheetCell, type SheetItem, type SheetPage } from './layout';
export { type SheetFonts, type SheetPictures, sheetPages, sheetPdf, sheetSvg } from './paint';
export { type CastTold, sentencesOf, sheetOf } from './words';
