package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;
import plenzo.api.Promotions.AttributeChange;
import plenzo.api.Promotions.MayView;
import plenzo.api.Standings.LeftView;

/** What differs at a site from what is recorded there, and settling it. */
public interface Drifts {
  /**
   * A page of all that differs, as the last look found it.
   *
   * @param version that is recorded there
   * @param owner whom to ask: who answers for the application
   * @param lookedAt when structures, files and definitions were looked at, null when nobody looked
   * @param rowsLookedAt when rows were
   * @param all how many parts and rows differ, those that are only there among them
   * @param listed how many of them are listed
   * @param groups the same, component by component
   * @param next what to give as cursor for the following page; null when this is the last
   * @param left what was left for a time and still is
   */
  record DriftView(
      String application,
      String site,
      @Nullable String version,
      String stageName,
      boolean production,
      String owner,
      @Nullable Instant lookedAt,
      @Nullable Instant rowsLookedAt,
      boolean reachable,
      long all,
      long listed,
      List<GroupView> groups,
      List<LineView> items,
      @Nullable String next,
      List<LeftView> left,
      SettleMay may) {}

  /** What the person may do about it. */
  record SettleMay(MayView putBack, MayView leave, MayView take) {}

  /**
   * What differs of one component.
   *
   * @param run the run that wrote it last, null when none did since it is recorded
   * @param author who changed it there last, null where the target cannot tell
   */
  record GroupView(
      String component,
      long changed,
      long gone,
      long onlyThere,
      @Nullable String run,
      @Nullable String author) {}

  /**
   * One part, row, file or definition.
   *
   * @param place how settling names it: the component, or component#part
   * @param how changed, gone or only-there
   * @param attributes what differs in it: present is what is there, incoming what is recorded
   * @param since since when it is known
   * @param settled kept or left when it is no drift for now, null when it is
   */
  record LineView(
      String place,
      String component,
      String how,
      List<AttributeChange> attributes,
      boolean valuesHidden,
      Instant since,
      @Nullable String settled) {}

  /**
   * What a site holds otherwise than another site or a version, worked out now.
   *
   * @param with the other one: stage/site, or a version's number
   * @param all how many parts and rows differ
   * @param items the first of them: present is what the site holds, incoming what the other does
   */
  record ComparedSidesView(
      String application,
      String site,
      String with,
      long all,
      List<GroupView> groups,
      List<SideLineView> items) {}

  /**
   * @param how changed, gone (the other has it) or only-there
   */
  record SideLineView(
      String place,
      String component,
      String how,
      List<AttributeChange> attributes,
      boolean valuesHidden) {}

  /**
   * Opens a plan that puts back what is recorded.
   *
   * @param only places that are put back; none for all that changed or is gone
   * @param away places only there that go
   */
  record PutBackAsked(
      @Nullable List<String> only, @Nullable List<String> away, @Nullable String notes) {}

  /** Leaves places as they are, until the end of a day (YYYY-MM-DD). */
  record LeaveAsked(List<String> places, String reason, String until) {}

  record PlacesAsked(List<String> places) {}

  record ValuesAsked(@Nullable String notes) {}

  /** What earlier runs left at a site, looked up now. */
  record LeftOverView(
      String application, String site, boolean production, List<LeftOverItem> items, MayView may) {}

  /**
   * One thing that is left.
   *
   * @param target the target's name; empty of what was kept on purpose
   * @param sort kept, prepared, before or scratch
   * @param shown the same in words
   * @param name by which it is cleared
   * @param run that left it, null when it is of no run that is known
   * @param bytes null when the target does not tell
   * @param since when that run ended
   * @param why why it cannot be cleared; empty when it can
   */
  record LeftOverItem(
      String target,
      String sort,
      String shown,
      String name,
      @Nullable String run,
      @Nullable Long bytes,
      @Nullable Instant since,
      String why) {}

  record NamesAsked(List<String> names) {}
}
