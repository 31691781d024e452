package plenzo.api;

import java.time.Instant;
import java.util.List;
import org.jspecify.annotations.Nullable;

/** What people look back on as a whole: records of promotions and releases, and figures. */
public interface Records {
  /**
   * A document of facts and tables.
   *
   * @param made when it was put together
   */
  record WholeRecord(String title, Instant made, List<ReportSection> sections) {}

  /**
   * @param text said where there are no rows, and otherwise empty
   * @param heads of the table; none: there is no table
   */
  record ReportSection(
      String heading,
      String text,
      List<ReportFact> facts,
      List<String> heads,
      List<List<String>> rows) {}

  record ReportFact(String name, String value) {}

  /**
   * Runs that began in a span and ended, of what one may look at.
   *
   * @param backs runs that went back, newest first, the first hundred
   */
  record FiguresView(
      Instant from,
      Instant until,
      FigureRow whole,
      List<FigureRow> byStage,
      List<FigureRow> byApplication,
      List<FigureRow> byMonth,
      List<WentBack> backs) {}

  /**
   * @param name of the stage or application, or the month as 2027-03
   * @param cameThrough runs that did what they were for, but for going back
   * @param wentBack runs that went back
   * @param usersOutSeconds in all
   * @param tookMedianSeconds of one run; null where there are none
   * @param sealingMedianSeconds from sealing to the end of the run that brought it
   * @param forYesMedianSeconds from preparing to the last yes; null where nobody was asked
   * @param forStartMedianSeconds from then to the start
   */
  record FigureRow(
      String name,
      int runs,
      int cameThrough,
      int toLookAt,
      int stopped,
      int putBack,
      int halfWritten,
      int wentBack,
      long usersOutSeconds,
      @Nullable Long tookMedianSeconds,
      @Nullable Long tookMostSeconds,
      @Nullable Long sealingMedianSeconds,
      @Nullable Long forYesMedianSeconds,
      @Nullable Long forStartMedianSeconds) {}

  /**
   * @param why what whoever prepared it said
   */
  record WentBack(String run, String application, String site, Instant at, String why) {}
}
