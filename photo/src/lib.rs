//! Photographs: checked by decoding them, and encoded anew, so that nothing but the pixels is kept.

mod scaled;

use std::io::Cursor;

use fast_image_resize::{FilterType, ResizeAlg, ResizeOptions, Resizer};
use image::codecs::jpeg::JpegEncoder;
use image::{DynamicImage, ImageDecoder, ImageError, ImageFormat, ImageReader, Limits};
use sha2::{Digest, Sha256};
use thiserror::Error;

/// Largest file that is taken: an ordinary telephone's photograph is 3 to 8 MiB.
pub const FILE_MIB: u64 = 16;
/// Most pixels of what comes, in millions: what good telephones take. A file of a few kilobytes can claim any number.
const COMES_MILLION: u64 = 50;
/// Most bytes that its pixels may take where a format is decoded whole, as WebP is.
const DECODED_BYTES: u64 = 80 << 20;
/// Most memory that a decoder may take for itself.
const DECODING_BYTES: u64 = 300 << 20;
/// Pixels on the longer side of what is kept: a connector that fills a third of it shows every pin.
const KEPT_PX: u32 = 2048;
/// Quality of the JPEG that is kept, of 100.
const QUALITY: u8 = 85;

/// Why a file is not kept.
#[derive(Debug, Error)]
pub enum PhotoError {
    /// Not one of the three formats, whatever its name says.
    #[error("this is not a PNG, JPEG or WebP picture")]
    Format,
    /// Damaged, cut off or made up.
    #[error("this picture is damaged: {0}")]
    Damaged(String),
    /// Too many pixels.
    #[error("this picture has too many pixels: at most {COMES_MILLION} million are taken; send a smaller one")]
    TooManyPixels,
}

/// A photograph as it is kept.
#[derive(Debug)]
pub struct Photo {
    /// SHA-256 of the JPEG, in hexadecimal.
    pub sha256: String,
    /// The picture.
    pub jpeg: Vec<u8>,
    /// Its width.
    pub width_px: u32,
    /// Its height.
    pub height_px: u32,
}

/// Reads a PNG, JPEG or WebP picture by what it holds, turns it upright, and encodes it anew without its metadata.
///
/// The same file always gives the same photograph. Refuses other formats, damaged pictures, and more pixels than fit.
pub fn take(file: &[u8]) -> Result<Photo, PhotoError> {
    let mut reader = ImageReader::new(Cursor::new(file)).with_guessed_format().map_err(|_| PhotoError::Format)?;
    if !matches!(reader.format(), Some(ImageFormat::Png | ImageFormat::Jpeg | ImageFormat::WebP)) {
        return Err(PhotoError::Format);
    }
    let mut limits = Limits::default();
    limits.max_alloc = Some(DECODING_BYTES);
    reader.limits(limits);
    let format = reader.format();
    let mut decoder = reader.into_decoder().map_err(told)?;
    let (width, height) = decoder.dimensions();
    if u64::from(width) * u64::from(height) > COMES_MILLION * 1_000_000 {
        return Err(PhotoError::TooManyPixels);
    }
    let upright = decoder.orientation().map_err(told)?;
    let in_parts = match format {
        Some(ImageFormat::Jpeg) => scaled::jpeg(file)?,
        Some(ImageFormat::Png) => scaled::png(file)?,
        _ => None,
    };
    let pixels = match in_parts {
        Some(pixels) => pixels,
        None if decoder.total_bytes() > DECODED_BYTES => return Err(PhotoError::TooManyPixels),
        None => scaled::on_white(DynamicImage::from_decoder(decoder).map_err(told)?),
    };
    let mut picture = DynamicImage::from(pixels);
    let longer = picture.width().max(picture.height());
    if longer > KEPT_PX {
        let fit = |side_px: u32| (f64::from(side_px) * f64::from(KEPT_PX) / f64::from(longer)).round().max(1.0) as u32;
        let size_px = (fit(picture.width()), fit(picture.height()));
        picture = fitted(&picture, size_px, FilterType::CatmullRom)?;
    }
    picture.apply_orientation(upright);
    let pixels = picture.into_rgb8();
    let mut jpeg = vec![];
    JpegEncoder::new_with_quality(&mut jpeg, QUALITY).encode_image(&pixels).map_err(told)?;
    let sha256 = Sha256::digest(&jpeg).iter().map(|byte| format!("{byte:02x}")).collect();
    Ok(Photo { sha256, jpeg, width_px: pixels.width(), height_px: pixels.height() })
}

fn fitted(
    picture: &DynamicImage,
    (width_px, height_px): (u32, u32),
    filter: FilterType,
) -> Result<DynamicImage, PhotoError> {
    let mut fitted = DynamicImage::new(width_px, height_px, picture.color());
    let fine = ResizeOptions::new().resize_alg(ResizeAlg::Convolution(filter));
    Resizer::new().resize(picture, &mut fitted, &fine).map_err(|e| PhotoError::Damaged(e.to_string()))?;
    Ok(fitted)
}

fn told(error: ImageError) -> PhotoError {
    match error {
        ImageError::Limits(_) => PhotoError::TooManyPixels,
        ImageError::Unsupported(_) => PhotoError::Format,
        other => PhotoError::Damaged(other.to_string()),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use image::{Rgb, RgbImage, Rgba, RgbaImage};

    #[global_allocator]
    static PEAK: peak_alloc::PeakAlloc = peak_alloc::PeakAlloc;

    /// A board with one red pixel region top left, so that turning shows.
    fn board(width_px: u32, height_px: u32) -> RgbImage {
        let corner = |x, y| x < width_px / 2 && y < height_px / 2;
        RgbImage::from_fn(width_px, height_px, |x, y| if corner(x, y) { Rgb([200, 20, 20]) } else { Rgb([20, 90, 30]) })
    }

    fn encoded(picture: &RgbImage, format: ImageFormat) -> Vec<u8> {
        let mut file = Cursor::new(vec![]);
        picture.write_to(&mut file, format).unwrap();
        file.into_inner()
    }

    fn pixels(photo: &Photo) -> RgbImage {
        image::load_from_memory_with_format(&photo.jpeg, ImageFormat::Jpeg).unwrap().to_rgb8()
    }

    /// A JPEG with a made-up place and an orientation in its EXIF segment (Exif 2.3, tag 0x0112).
    fn with_exif(jpeg: &[u8], orientation: u8) -> Vec<u8> {
        let mut tiff = b"MM\0\x2a\0\0\0\x08\0\x02".to_vec();
        tiff.extend([0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, orientation, 0, 0]);
        tiff.extend([0x01, 0x0e, 0, 2, 0, 0, 0, 12, 0, 0, 0, 38]);
        tiff.extend([0, 0, 0, 0]);
        tiff.extend(b"north jetty\0");
        let length = u16::try_from(tiff.len() + 8).unwrap().to_be_bytes();
        [&jpeg[..2], &[0xff, 0xe1], &length[..], &b"Exif\0\0"[..], &tiff[..], &jpeg[2..]].concat()
    }

    #[test]
    fn all_three_formats_are_kept_as_the_same_picture() {
        let original = board(64, 40);
        for format in [ImageFormat::Png, ImageFormat::Jpeg, ImageFormat::WebP] {
            let photo = take(&encoded(&original, format)).unwrap_or_else(|e| panic!("{format:?}: {e}"));
            assert_eq!((photo.width_px, photo.height_px), (64, 40));
            let kept = pixels(&photo);
            let off =
                |x, y| kept.get_pixel(x, y).0.iter().zip(original.get_pixel(x, y).0).map(|(a, b)| a.abs_diff(b)).max();
            assert!(off(4, 4) < Some(12) && off(60, 36) < Some(12), "{format:?}");
            assert_eq!(photo.sha256.len(), 64);
        }
    }

    #[test]
    fn what_the_camera_wrote_is_gone_and_the_picture_stands_upright() {
        let file = with_exif(&encoded(&board(64, 40), ImageFormat::Jpeg), 6);
        assert!(file.windows(5).any(|w| w == b"jetty"));
        let photo = take(&file).unwrap();
        for word in [&b"jetty"[..], b"Exif"] {
            assert!(!photo.jpeg.windows(word.len()).any(|w| w == word));
        }
        // Orientation 6: turn a quarter clockwise, so that the red corner comes to the top right.
        assert_eq!((photo.width_px, photo.height_px), (40, 64));
        let kept = pixels(&photo);
        assert!(kept.get_pixel(36, 4).0[0] > 150 && kept.get_pixel(4, 4).0[0] < 80);
    }

    #[test]
    fn a_large_picture_becomes_smaller_and_keeps_its_shape() {
        let photo = take(&encoded(&board(4096, 1024), ImageFormat::Png)).unwrap();
        assert_eq!((photo.width_px, photo.height_px), (2048, 512));
        let same = take(&encoded(&board(4096, 1024), ImageFormat::Png)).unwrap();
        assert_eq!(photo.sha256, same.sha256);
        assert_ne!(photo.sha256, take(&encoded(&board(64, 40), ImageFormat::Png)).unwrap().sha256);
    }

    #[test]
    fn a_picture_of_fifty_million_pixels_is_never_in_memory_whole() {
        let large = board(8000, 6000);
        let files = [ImageFormat::Png, ImageFormat::Jpeg].map(|format| encoded(&large, format));
        let whole = large.as_raw().len();
        drop(large);
        for file in files {
            let before = PEAK.current_usage();
            PEAK.reset_peak_usage();
            let photo = take(&file).unwrap();
            let taken = PEAK.peak_usage() - before;
            assert!(taken < whole * 3 / 4, "{taken} bytes were taken for {whole} of pixels");
            assert_eq!((photo.width_px, photo.height_px), (2048, 1536));
            let kept = pixels(&photo);
            assert!(kept.get_pixel(1000, 700).0[0] > 150 && kept.get_pixel(1050, 790).0[0] < 80);
        }
    }

    #[test]
    fn a_fine_pattern_comes_out_as_its_mean() {
        // Lines of one pixel, black and white, on every kind of PNG: grey after averaging, never one of the two.
        let lines = |x: u32| if x.is_multiple_of(2) { 0 } else { 255 };
        let size = (4 * KEPT_PX, 64);
        let drawn: [DynamicImage; 4] = [
            image::GrayImage::from_fn(size.0, size.1, |x, _| image::Luma([lines(x)])).into(),
            image::GrayAlphaImage::from_fn(size.0, size.1, |x, _| image::LumaA([0, lines(x)])).into(),
            RgbImage::from_fn(size.0, size.1, |x, _| Rgb([lines(x); 3])).into(),
            RgbaImage::from_fn(size.0, size.1, |x, _| Rgba([0, 0, 0, lines(x)])).into(),
        ];
        for picture in drawn {
            let mut file = Cursor::new(vec![]);
            picture.write_to(&mut file, ImageFormat::Png).unwrap();
            let photo = take(&file.into_inner()).unwrap();
            assert_eq!((photo.width_px, photo.height_px), (KEPT_PX, 16));
            let grey = pixels(&photo).get_pixel(900, 8).0;
            assert!(grey.iter().all(|c| c.abs_diff(128) < 4), "{:?}: {grey:?}", picture.color());
        }
    }

    #[test]
    fn what_is_clear_becomes_white() {
        let mut file = Cursor::new(vec![]);
        RgbaImage::from_pixel(16, 16, Rgba([0, 0, 0, 0])).write_to(&mut file, ImageFormat::Png).unwrap();
        assert!(pixels(&take(&file.into_inner()).unwrap()).get_pixel(8, 8).0.iter().all(|c| *c > 250));
    }

    #[test]
    fn whatever_is_no_picture_is_refused() {
        let png = encoded(&board(64, 40), ImageFormat::Png);
        for file in [&b""[..], b"GIF89a and more", b"<svg xmlns='http://www.w3.org/2000/svg'/>", b"\x89PNG\r\n\x1a\n"] {
            assert!(take(file).is_err(), "{file:?}");
        }
        assert!(matches!(take(b"plain text that calls itself photo.png"), Err(PhotoError::Format)));
        assert!(matches!(take(&png[..png.len() / 2]), Err(PhotoError::Damaged(_))));
        // Width and height in the header chunk, with its checksum: small files that claim to be enormous.
        for (width, height) in
            [(1_u32 << 24, 40_u32), (8_000, 6_300), (50_000_001, 1), (i32::MAX as u32, i32::MAX as u32)]
        {
            let mut bomb = png.clone();
            bomb[16..20].copy_from_slice(&width.to_be_bytes());
            bomb[20..24].copy_from_slice(&height.to_be_bytes());
            let checksum = crc(&bomb[12..29]).to_be_bytes();
            bomb[29..33].copy_from_slice(&checksum);
            assert!(
                matches!(take(&bomb), Err(PhotoError::TooManyPixels)),
                "{width} x {height}: {:?}",
                take(&bomb).err()
            );
        }
    }

    /// CRC-32 as PNG states it (ISO/IEC 15948, annex D).
    fn crc(bytes: &[u8]) -> u32 {
        let step = |c: u32, _| if c & 1 == 1 { 0xedb8_8320 ^ (c >> 1) } else { c >> 1 };
        !bytes.iter().fold(!0u32, |c, b| (0..8).fold(c ^ u32::from(*b), step))
    }
}
