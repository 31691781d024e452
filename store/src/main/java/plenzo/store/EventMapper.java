package plenzo.store;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Param;
import org.jspecify.annotations.Nullable;
import plenzo.core.history.Names;
import plenzo.core.keeping.Kept.HistoryFilter;

/** History, journal, counters and the service's own facts. */
public interface EventMapper {
  HeadRow head();

  int moveHead(
      @Param("sequence") long sequence, @Param("hash") String hash, @Param("was") long was);

  int insertHistory(HistoryRow row);

  /** Format of new journal rows; 1 had outcomes and targets in words. */
  int JOURNAL_FORMAT = 2;

  List<HistoryRow> history(@Param("filter") HistoryFilter filter, @Param("lens") HistoryLens lens);

  int insertJournal(JournalRow row);

  List<JournalRow> journal(@Param("run") long run);

  long nextJournal();

  int count(@Param("series") String series);

  int startCounting(@Param("series") String series);

  long counted(@Param("series") String series);

  long last(@Param("series") String series);

  int raise(@Param("series") String series, @Param("atLeast") long atLeast);

  int removeFact(@Param("name") String name);

  /** The head without taking its lock. */
  HeadRow headNow();

  @Nullable String fact(@Param("name") String name);

  int insertFact(@Param("name") String name, @Param("text") String text);

  /** Sorts of keys, as their table tells them apart; those of before schema 2 have none. */
  String SESSION = "session";

  String TOKEN = "token";

  int forgetAnswers(@Param("before") OffsetDateTime before);

  int forgetKeys(@Param("sort") String sort, @Param("before") OffsetDateTime before);

  /** How many names there are, which is the newest, and how many are not blanked. */
  record CalledCount(long names, long newest, long salted) {}

  CalledCount calledCount();

  List<Names.Called> called();

  List<Names.Called> calledOf(@Param("login") String login);

  int insertCalled(Names.Called called);

  /** Takes salt and name of every name of a person away. */
  int blank(@Param("login") String login, @Param("as") String as);

  /** Entries whose chain has a sign, a part at a time, the oldest first. */
  List<HistoryRow> signed(
      @Param("id") String id, @Param("after") long after, @Param("limit") int limit);

  /** What people read of an entry; its chain stays. */
  int reword(
      @Param("sequence") long sequence, @Param("actor") String actor, @Param("text") String text);

  List<JournalRow> journalHolding(@Param("word") String word);

  int rewordJournal(@Param("sequence") long sequence, @Param("text") String text);

  /** Entries of which the chain itself has a name: those of before there were signs. */
  long unsigned(@Param("login") String login);

  /** Last entry of the chain. */
  record HeadRow(long sequence, String hash) {}

  /** A history entry with its time as text, so that the hash is over exactly what is stored. */
  record HistoryRow(
      long sequence,
      OffsetDateTime at,
      String actor,
      String event,
      @Nullable String application,
      @Nullable String stage,
      @Nullable String site,
      @Nullable String version,
      @Nullable Long promotion,
      @Nullable Long run,
      String text,
      String before,
      String hash,
      @Nullable String chainedActor,
      @Nullable String chainedText) {}

  /** A journal entry. */
  record JournalRow(
      long sequence,
      long run,
      String step,
      int attempt,
      String type,
      String target,
      @Nullable String outcome,
      @Nullable String session,
      String text,
      OffsetDateTime at,
      int format) {}
}
