"""What each button does, as a tip, where its own words leave that open; by object name."""

from PySide6.QtWidgets import QAbstractButton, QTableView, QWidget

from farrail.language import N_, Message

TIPS: dict[str, Message] = {
    # Parts
    "shelf_filter": N_("Show only parts of some kinds, connections or states"),
    "shelf_group": N_("Group the list by kind, connection, state or train"),
    "table_menu": N_("Copy, paste, import and export the list as a table"),
    "new_part": N_("Add a part of a kind and enter its values"),
    "lay_part": N_("Put the selected part into the train in view, where it fits"),
    "duplicate_part": N_("Add a copy of the selected part (Ctrl+D)"),
    "discard_part": N_("Remove the selected part from your parts (Delete)"),
    "page_take": N_("Enter the values read from the page into this part"),
    "page_leave": N_("Close the page and enter nothing"),
    "ready_made_take": N_("Add the selected sizes to your parts"),
    "ready_made_done": N_("Close the list of ready-made sizes"),
    "import_take": N_("Add the rows of the table that can be read"),
    "import_leave": N_("Close the table and add nothing"),
    "field_unknown": N_("The value is not known: results become intervals"),
    "field_figures": N_("Every figure of this value: measured, published, assumed"),
    # Spacing
    "show_plan": N_("Combinations of spacers that you own"),
    "show_filters": N_("Error of each filter of the set"),
    "show_figures": N_("Every figure of this page with its working"),
    "show_together": N_("One purchase that brings several trains to back focus"),
    "together_find": N_("Find the parts that bring the ticked trains to back focus"),
    "together_lay": N_("Put the found parts into all of these trains, in one step"),
    "plan_find": N_("Find combinations of your spacers that bring the sensor to back focus"),
    "plan_lay": N_("Put the selected combination into the train"),
    # Vignetting
    "show_clearance": N_("Clear aperture of each opening against what the corner needs"),
    "show_cameras": N_("The same train with each of your cameras"),
    "show_ways": N_("The wheel or drawer either way round"),
    "show_field": N_("Field of view, pixel scale and targets"),
    "show_curve": N_("Light against the distance from the centre"),
    "turn_round": N_("Reverse the wheel or drawer in the train"),
    # Filters
    "show_remedies": N_("Fixes that free the corners, with the cost of each"),
    "show_sheets": N_("The size that each filter needs"),
    "show_curve_over_zoom": N_("Corner loss against focal length"),
    "plan_rings": N_("One filter size for all of your lenses, with the rings to buy"),
    "front_apply": N_("Make the selected fix"),
    # Close-up
    "show_ask": N_("Parts that fill the frame with a subject of a given size"),
    "show_ends": N_("Reach of a lens at its closest focus and at infinity"),
    "show_stack": N_("Steps and number of frames for a depth"),
    "rail_run": N_("Take the steps on the simulated focus rail"),
    "rail_cancel": N_("Stop the simulated rail"),
    "rail_show_log": N_("Record of the simulated rail"),
    "ask_go": N_("Search your parts"),
    "ask_lay": N_("Make a train of the selected combination"),
    # Exposure and assembly
    "countdown_start": N_("Count the exposure down"),
    "build_tick": N_("Mark this step as done and go to the next (Space)"),
    "build_built": N_("Mark all steps as done today"),
    "build_anew": N_("Clear all ticks"),
    # Log
    "log_entry": N_("The entry in hand"),
    "log_teaches": N_("Values calibrated from the log, to be applied"),
    "log_times": N_("Readings by day, and the day something moved"),
    "log_history": N_("The train as it was on other days"),
    "log_frames": N_("Flats, stars, dust, rulers and skies as evidence"),
    "frame_open": N_("Choose frames of the kind above, or a folder of an evening"),
    "frame_difference": N_("Show the difference from the prediction instead of the light"),
    "frame_write": N_("Add what the frame shows to the log"),
    "frame_tell": N_("Show the fault that the simulated frame has"),
    "frame_stop": N_("Stop reading the frame"),
    "state_keep": N_("Keep the train as it is now under this name"),
    "state_lay": N_("Add the train of this snapshot as a new train"),
    "state_drop": N_("Remove the name of this snapshot; entries keep their state"),
    "log_take_over": N_("Put the ticked values into their parts; observations stay linked"),
    "log_save": N_("Save this entry (Enter)"),
    "log_photo": N_("Link a photo; its exposure data fill the fields"),
    "log_new": N_("Begin another entry"),
    "log_remove": N_("Remove this entry from the log"),
    # Compare
    "compare_figures": N_("Figures of the trains side by side"),
    "compare_differs": N_("Parts that the trains do not share"),
    "compare_curves": N_("Light and vignetting as curves"),
    "compare_missing": N_("Parts you would have to buy for each"),
    "compare_photos": N_("The photo that each train takes"),
    "compare_only": N_("Hide rows in which the trains are equal"),
    "compare_wish": N_("Mark the missing parts as wanted"),
}


def add_tips(root: QWidget) -> None:
    """Give every button of a widget that has no tip its own."""
    for button in root.findChildren(QAbstractButton):
        tip = TIPS.get(button.objectName())
        if tip is not None and not button.toolTip():
            button.setToolTip(str(tip))
    for table in root.findChildren(QTableView):
        table.setCornerButtonEnabled(False)
