// SPDX-License-Identifier: GPL-3.0-or-later
#include "vision/picture_file.h"
#include "vision/vision.h"

#include <opencv2/imgcodecs.hpp>
#include <opencv2/imgproc.hpp>

namespace fortitor {
namespace {

/// Sixteen bits to eight: what the picture uses of them, not all there could be.
cv::Mat toEightBits(const cv::Mat& grey)
{
    if (grey.depth() == CV_8U)
        return grey;
    double low = 0, high = 0;
    cv::minMaxLoc(grey, &low, &high);
    cv::Mat out;
    const double scale = high > low ? 255 / (high - low) : 1;
    grey.convertTo(out, CV_8U, scale, -low * scale);
    return out;
}

} // namespace

Expected<GreyPicture> decodePicture(std::span<const std::uint8_t> bytes, const std::string& path)
{
    if (auto head = pictureHead(bytes, path); !head)
        return head.problem();
    cv::Mat any;
    try {
        const cv::Mat all(1, static_cast<int>(bytes.size()), CV_8U, const_cast<std::uint8_t*>(bytes.data()));
        any = cv::imdecode(all, cv::IMREAD_UNCHANGED | cv::IMREAD_IGNORE_ORIENTATION);
    } catch (const cv::Exception&) {
        any.release();
    }
    if (any.empty())
        return Problem{path, "a picture that does not decode", "a whole PNG, JPEG, TIFF or BMP",
                       "Copy it again from the camera."};
    cv::Mat grey = any;
    if (any.channels() == 3 || any.channels() == 4)
        cv::cvtColor(any, grey, any.channels() == 4 ? cv::COLOR_BGRA2GRAY : cv::COLOR_BGR2GRAY);
    else if (any.channels() != 1)
        cv::extractChannel(any, grey, 0);
    grey = toEightBits(grey);
    GreyPicture picture{grey.cols, grey.rows, {}};
    picture.pixels.reserve(grey.total());
    for (int y = 0; y < grey.rows; ++y)
        picture.pixels.insert(picture.pixels.end(), grey.ptr<std::uint8_t>(y), grey.ptr<std::uint8_t>(y) + grey.cols);
    return picture;
}

} // namespace fortitor

/// What the program asks for once the library is loaded.
extern "C" __attribute__((visibility("default"))) const fortitor::Vision* fortitorVision()
{
    static const fortitor::Vision all{fortitor::decodePicture, fortitor::findIndent};
    return &all;
}
