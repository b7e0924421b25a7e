// pictures that a page takes in by import; said here since the file in which Next.js says it is made by its first build
/// <reference types="next/image-types/global" />
