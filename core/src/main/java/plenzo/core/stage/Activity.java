package plenzo.core.stage;

/** What is under way at a site, most pressing first. */
public enum Activity {
  FAILED("failed"),
  WAITING_FOR_YOU("waiting for you"),
  PAUSED("paused"),
  RUNNING("running"),
  WAITING_FOR_OTHERS("waiting for others"),
  FROZEN("frozen");

  private final String code;

  Activity(String code) {
    this.code = code;
  }

  public String code() {
    return code;
  }
}
