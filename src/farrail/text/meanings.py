"""What each figure means, in a sentence or two: the glossary behind working cards, tips, help and docs/figures.md."""

from farrail.language import say

MEANINGS = {
    "spacing.laid_mm": "From the datum to the sensor with the current parts: all shoulder-to-shoulder "
    "lengths and the camera's own flange-to-sensor distance.",
    "spacing.glass_shift_mm": "How much farther from the optic the focus is because of glass in the light. The "
    "sensor has to be that much farther back.",
    "spacing.required_mm": "Required distance of the sensor: the optic's back focus plus the focus shift of "
    "the glass behind it.",
    "spacing.error_mm": "Actual less required. Minus is too short: length is missing between datum and camera. Plus is "
    "too long.",
    "spacing.spare_mm": "The length still to be put between datum and camera where the train is too short.",
    "spacing.stack_worst_mm": "How far the sum of lengths may be off if every tolerance adds up against you.",
    "spacing.stack_rss_mm": "How far the sum of lengths is off at most in nineteen of twenty trains built like this.",
    "spacing.measure_first": "The value whose uncertainty matters most: measuring it narrows the result most.",
    "spacing.tolerance_mm": "The error the optic permits before corner stars are drawn out.",
    "spacing.depth_of_focus_mm": "Distance from focus, to either side, within which a star stays as small as "
    "diffraction allows: ±2λN².",
    "spacing.farthest_focus_mm": "The farthest distance a lens focuses at when it is too far from the sensor.",
    "spacing.telescope_error_mm": "Error of the corrector's distance from its telescope.",
    "spacing.filter.*.error_mm": "The spacing error with this filter of the wheel or set in the beam; each shifts the "
    "focus by its own glass.",
    "spacing.focuser_travel_mm": "Focuser position with this train in focus, from its inner stop.",
    "spacing.guide.*_mm": "Distance behind the guider's port at which the guide sensor shares the camera's focus.",
    "light.f_number": "Focal length over aperture: the cone of light that reaches the sensor.",
    "light.exit_pupil_mm": "How far before the sensor the light seems to come from: its cones start there.",
    "light.focal_length_mm": "The focal length with everything in the train that has power.",
    "light.corner_ri": "Relative illumination: the corner's light as a share of the centre's, cut by parts alone.",
    "light.corner_stops": "The corner's loss in stops: one stop is half the light.",
    "light.edge.*_stops": "The loss in the middle of one edge of the picture, in stops.",
    "light.limiting_part": "The part that clips the corner most: change this one first.",
    "light.clean_frame": "The largest part of the frame, of the same shape, that is free of vignetting (0.1 stop).",
    "light.clean_share": "How much of the frame's area that is.",
    "light.needed.*_mm": "The clear aperture this place needs so that the whole cone toward the corner passes.",
    "light.loss.*_stops": "What this aperture would cost the corner if it were the only one.",
    "light.train_shadow": "The share of the mirror that the train itself shadows, standing ahead of it.",
    "light.field_of_view": "The angles the frame covers, across and upright.",
    "light.field_*_deg": "The angle one side of the frame covers.",
    "light.pixel_scale_arcsec": "The piece of sky one pixel sees, in seconds of arc.",
    "light.image_circle_margin_mm": "How far the optic's image circle reaches beyond the sensor's diagonal.",
    "light.image_circle_cover": "The share of the frame inside the image circle.",
    "light.inscribed_frame": "The largest frame of this shape inside the image circle.",
    "light.tilt_allowed_deg": "The tilt of the sensor that stays within the depth of focus from corner to corner.",
    "light.tilt_shim_mm": "That tilt as a wedge across the flange.",
    "light.tilt_pixel_deg": "The tilt that blurs the corner by one pixel.",
    "light.tilt_plate.*_um": "How far this tilt plate moves a corner of the sensor along the axis, at most.",
    "light.plate_aberration_um": "The blur plane glass adds to a converging cone.",
    "light.passband.*": "How far a narrow filter's passband moves, and what it still passes of its line, at this "
    "cone's steepest rays.",
    "light.target_panels": "Number of frames side by side needed for the target.",
    "front.corner_loss_stops": "What the front stack adds to the corner's loss, against the lens alone.",
    "front.first_clean_mm": "The shortest focal length from which the stack adds no more than 0.1 stop to the corners, "
    "and at every longer one too.",
    "front.visible_mm": "The shortest focal length from which the stack's darkening is hardly seen any more.",
    "front.depth_mm": "Length of the front stack ahead of the lens's filter thread.",
    "front.limiting_part": "The part of the front stack whose change would help the corner most.",
    "front.onset_mm": "The image height at which the limiting opening begins to take light.",
    "front.half_mm": "The image height at which half the light is lost.",
    "front.dark_mm": "The image height from which all light is lost.",
    "front.step_back": "How much farther away you must be, at the first focal length free of vignetting, "
    "for the same picture.",
    "front.sheet.*_mm": "The size a square or rectangular filter needs in this slot.",
    "front.sky_uneven_stops": "How unevenly a polariser darkens a clear blue sky over this frame.",
    "closeup.magnification": "Image over subject: at 1x a 20 mm subject is 20 mm on the sensor.",
    "closeup.ratio": "The same as a reproduction ratio, 1:2 for half life-size.",
    "closeup.width_mm": "How much of the subject fills the frame's width.",
    "closeup.height_mm": "How much of the subject fills the frame's height.",
    "closeup.pixel_um": "The piece of the subject one pixel sees.",
    "closeup.crop_share": "The share of pixels that would be left if the bare lens's picture were cropped to this one.",
    "closeup.working_distance_mm": "From the front of the foremost glass to the subject: the room for light and hands.",
    "closeup.subject_to_sensor_mm": "From the subject to the sensor, for a copy stand or a rail.",
    "closeup.near_mm": "The shortest working distance the lens's own focusing reaches with all that is on.",
    "closeup.far_mm": "The longest; beyond it there is no focus.",
    "closeup.effective_f_number": "The cone that reaches the sensor when the lens is farther out; it decides light "
    "and diffraction.",
    "closeup.stops_lost": "The light lost against the same lens at infinity.",
    "closeup.stops_against_bare": "The light lost against the bare lens at its own closest.",
    "closeup.depth_of_field_mm": "Depth of field, both sides together, with blur and diffraction.",
    "closeup.depth_geometric_mm": "The share of that depth the accepted blur gives.",
    "closeup.depth_diffraction_mm": "The share diffraction gives.",
    "closeup.diffraction_f_number": "The f-number beyond which diffraction alone blurs more than is accepted.",
    "closeup.sharpest_f_number": "The engraved f-number at which the subject's whole depth is drawn sharpest.",
    "exposure.total_stops": "What everything on the lens and behind it costs, in stops.",
    "exposure.*_stops": "What this one piece costs, in stops.",
    "exposure.sky_stops": "What the dark parts of graduated filters cost the sky besides.",
    "exposure.flash_mm": "How far a flash of this guide number reaches with everything on.",
    "exposure.time_s": "The exposure time with everything on, from the metered one.",
}


def meaning_of(kind: str) -> str:
    """Return what a kind of figure means; "" for one that says it itself.

    Args:
        kind: such as `spacing.error_mm`.
    """
    return say(MEANINGS[kind]) if kind in MEANINGS else ""
