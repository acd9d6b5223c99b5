//! Pixels read at about the size that is kept, so that a large picture is never in memory whole.
//!
//! JPEG is transformed at an eighth, a quarter or half of its size; the rows of a PNG are averaged as they come. WebP
//! and what is rare (interlaced, printer's inks) have no such way: they are decoded whole, within a bound of their own.

use std::io::Cursor;

use fast_image_resize::FilterType;
use image::{DynamicImage, GrayAlphaImage, GrayImage, Rgb, RgbImage, RgbaImage};
use jpeg_decoder::PixelFormat;
use png::{BitDepth, ColorType, Transformations};

use super::{DECODING_BYTES, KEPT_PX, PhotoError};

/// Rows of what is kept that are averaged at once.
const STRIP_ROWS: u32 = 64;

/// Decodes a JPEG at the smallest size that is still at least as large as what is kept.
///
/// None for one in printer's inks or of more than eight bits, which no camera writes.
pub(super) fn jpeg(file: &[u8]) -> Result<Option<RgbImage>, PhotoError> {
    let damaged = |e: jpeg_decoder::Error| PhotoError::Damaged(e.to_string());
    let mut decoder = jpeg_decoder::Decoder::new(file);
    decoder.set_max_decoding_buffer_size(DECODING_BYTES as usize);
    decoder.read_info().map_err(damaged)?;
    let grey = match decoder.info().map(|info| info.pixel_format) {
        Some(PixelFormat::L8) => true,
        Some(PixelFormat::RGB24) => false,
        _ => return Ok(None),
    };
    let (width, height) = decoder.scale(KEPT_PX as u16, KEPT_PX as u16).map_err(damaged)?;
    let raw = decoder.decode().map_err(damaged)?;
    let rgb = if grey { raw.into_iter().flat_map(|l| [l; 3]).collect() } else { raw };
    Ok(RgbImage::from_raw(u32::from(width), u32::from(height), rgb))
}

/// Reads a PNG strip by strip, averaging squares of pixels where it is more than twice as large as what is kept.
///
/// None for an interlaced one, whose rows come in seven passes.
pub(super) fn png(file: &[u8]) -> Result<Option<RgbImage>, PhotoError> {
    let damaged = |e: png::DecodingError| PhotoError::Damaged(e.to_string());
    let limits = png::Limits { bytes: DECODING_BYTES as usize };
    let mut decoder = png::Decoder::new_with_limits(Cursor::new(file), limits);
    decoder.set_transformations(Transformations::EXPAND | Transformations::STRIP_16);
    let mut reader = decoder.read_info().map_err(damaged)?;
    let info = reader.info();
    if info.interlaced {
        return Ok(None);
    }
    let (width, height) = (info.width, info.height);
    let strip_of: fn(u32, u32, Vec<u8>) -> Option<DynamicImage> = match reader.output_color_type() {
        (ColorType::Grayscale, BitDepth::Eight) => |w, h, raw| Some(GrayImage::from_raw(w, h, raw)?.into()),
        (ColorType::GrayscaleAlpha, BitDepth::Eight) => |w, h, raw| Some(GrayAlphaImage::from_raw(w, h, raw)?.into()),
        (ColorType::Rgb, BitDepth::Eight) => |w, h, raw| Some(RgbImage::from_raw(w, h, raw)?.into()),
        (ColorType::Rgba, BitDepth::Eight) => |w, h, raw| Some(RgbaImage::from_raw(w, h, raw)?.into()),
        _ => return Ok(None),
    };
    let square = (width.max(height) / KEPT_PX).max(1);
    let strip_rows = square * STRIP_ROWS;
    let mut picture = Vec::with_capacity((width.div_ceil(square) * height.div_ceil(square) * 3) as usize);
    for top in (0..height).step_by(strip_rows as usize) {
        let rows = strip_rows.min(height - top);
        let mut raw = vec![];
        for _ in 0..rows {
            let row = reader.next_row().map_err(damaged)?;
            raw.extend_from_slice(row.ok_or_else(|| PhotoError::Damaged("it ends before its last row".into()))?.data());
        }
        let strip = strip_of(width, rows, raw).ok_or(PhotoError::Format)?;
        let small = super::fitted(&strip, (width.div_ceil(square), rows.div_ceil(square)), FilterType::Box)?;
        picture.extend(on_white(small).into_raw());
    }
    Ok(RgbImage::from_raw(width.div_ceil(square), height.div_ceil(square), picture))
}

/// JPEG knows no transparency: what is clear becomes white paper.
pub(super) fn on_white(picture: DynamicImage) -> RgbImage {
    if !picture.color().has_alpha() {
        return picture.into_rgb8();
    }
    let clear = picture.into_rgba8();
    RgbImage::from_fn(clear.width(), clear.height(), |x, y| {
        let [r, g, b, a] = clear.get_pixel(x, y).0.map(u32::from);
        let over = |c: u32| ((c * a + 255 * (255 - a) + 127) / 255) as u8;
        Rgb([over(r), over(g), over(b)])
    })
}
