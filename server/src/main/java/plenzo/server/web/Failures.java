package plenzo.server.web;

import jakarta.servlet.http.HttpServletRequest;
import java.time.DateTimeException;
import java.util.List;
import java.util.Objects;
import org.jspecify.annotations.Nullable;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.web.HttpMediaTypeNotSupportedException;
import org.springframework.web.HttpRequestMethodNotSupportedException;
import org.springframework.web.bind.MissingServletRequestParameterException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.async.AsyncRequestNotUsableException;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.servlet.resource.NoResourceFoundException;
import plenzo.api.Failure;
import plenzo.core.json.Whole;
import plenzo.core.keeping.LostRace;
import plenzo.core.problem.Problem;
import plenzo.core.target.TargetFailed;
import plenzo.server.security.Asking;
import plenzo.server.security.Refusals;
import plenzo.server.security.TooSlow;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.exc.UnrecognizedPropertyException;

/**
 * Errors as problem details (RFC 9457): a stable code, a sentence, what to do next; never a stack
 * trace.
 */
@RestControllerAdvice
class Failures {
  private static final System.Logger LOG = System.getLogger(Failures.class.getName());

  static HttpStatus status(Problem.Reason reason) {
    return switch (reason) {
      case INVALID -> HttpStatus.UNPROCESSABLE_CONTENT;
      case NOT_SIGNED_IN -> HttpStatus.UNAUTHORIZED;
      case NOT_ALLOWED -> HttpStatus.FORBIDDEN;
      case NOT_FOUND -> HttpStatus.NOT_FOUND;
      case CHANGED -> HttpStatus.PRECONDITION_FAILED;
      case STOPPED, NEEDS_CONFIRMATION -> HttpStatus.CONFLICT;
      case NOT_REACHABLE -> HttpStatus.BAD_GATEWAY;
      case NOT_INTACT -> HttpStatus.UNPROCESSABLE_CONTENT;
    };
  }

  private static ResponseEntity<Failure> answer(
      HttpStatus status,
      String code,
      String detail,
      List<String> next,
      @Nullable String field,
      HttpServletRequest request) {
    return ResponseEntity.status(status)
        .contentType(MediaType.APPLICATION_PROBLEM_JSON)
        .body(Refusals.failure(status, code, detail, next, field, request));
  }

  @ExceptionHandler
  ResponseEntity<Failure> lost(LostRace e, HttpServletRequest request) {
    return answer(
        HttpStatus.PRECONDITION_FAILED,
        "CHANGED",
        "Somebody else changed it meanwhile; nothing was written.",
        List.of("Look again, then change it"),
        null,
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> problem(Problem e, HttpServletRequest request) {
    return answer(
        status(e.reason()),
        e.code(),
        Objects.requireNonNull(e.getMessage()),
        e.next(),
        e.field(),
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> target(TargetFailed e, HttpServletRequest request) {
    return answer(
        HttpStatus.BAD_GATEWAY,
        "NOT_REACHABLE",
        String.valueOf(e.getMessage()),
        List.of("Check the connection: plenzo site check"),
        null,
        request);
  }

  /** A time, a day or a zone of a body or an address that is none. */
  @ExceptionHandler
  ResponseEntity<Failure> time(DateTimeException e, HttpServletRequest request) {
    return answer(
        HttpStatus.UNPROCESSABLE_CONTENT,
        "INVALID",
        "A time or a zone cannot be read: " + e.getMessage(),
        List.of("Write times as 22:00 and zones as Europe/Oslo"),
        null,
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> wrong(IllegalArgumentException e, HttpServletRequest request) {
    return answer(
        HttpStatus.UNPROCESSABLE_CONTENT,
        "INVALID",
        String.valueOf(e.getMessage()),
        List.of(),
        null,
        request);
  }

  /** The pointer (RFC 6901) names the place, as far as the reader came. */
  @ExceptionHandler
  ResponseEntity<Failure> broken(HttpMessageNotReadableException e, HttpServletRequest request) {
    Throwable cause = e.getMostSpecificCause();
    String pointer = null;
    for (Throwable t = e; t != null && pointer == null; t = t.getCause()) {
      pointer = t instanceof JacksonException j ? pointer(j) : null;
    }
    String detail =
        cause instanceof UnrecognizedPropertyException unknown
            ? "\"" + unknown.getPropertyName() + "\" is not known here."
            : cause instanceof IllegalArgumentException && !(cause instanceof NumberFormatException)
                ? String.valueOf(cause.getMessage())
                : pointer == null || pointer.isEmpty()
                    ? "The request's body is not the JSON that is expected here."
                    : pointer + " is missing, or not of the sort that is expected there.";
    return answer(
        HttpStatus.BAD_REQUEST,
        "BROKEN_JSON",
        detail,
        List.of("See /api/openapi"),
        pointer,
        request);
  }

  private static String pointer(JacksonException e) {
    StringBuilder out = new StringBuilder();
    e.getPath()
        .forEach(
            at ->
                out.append('/')
                    .append(at.getPropertyName() == null ? at.getIndex() : at.getPropertyName()));
    return out.toString();
  }

  @ExceptionHandler
  ResponseEntity<Failure> shape(Whole.Missing e, HttpServletRequest request) {
    return answer(
        HttpStatus.UNPROCESSABLE_CONTENT,
        "MISSING",
        e.pointer().isEmpty() ? "The body is missing." : e.pointer() + " is missing.",
        List.of("See /api/openapi"),
        e.pointer(),
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> many(EventHub.TooMany e, HttpServletRequest request) {
    return answer(
        HttpStatus.TOO_MANY_REQUESTS,
        "TOO_MANY",
        String.valueOf(e.getMessage()),
        List.of("Close pages that you do not need"),
        null,
        request);
  }

  /** A file that is received too slowly. */
  @ExceptionHandler
  ResponseEntity<Failure> slow(TooSlow e, HttpServletRequest request) {
    return answer(
        HttpStatus.REQUEST_TIMEOUT,
        "TOO_SLOW",
        String.valueOf(e.getMessage()) + ".",
        List.of(),
        null,
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> parameter(
      MethodArgumentTypeMismatchException e, HttpServletRequest request) {
    Throwable cause = e.getRootCause();
    String detail =
        cause instanceof IllegalArgumentException
                && cause.getMessage() != null
                && !(cause instanceof NumberFormatException)
            ? cause.getMessage()
            : "\"" + e.getValue() + "\" is not a " + e.getName() + ".";
    return answer(
        HttpStatus.UNPROCESSABLE_CONTENT, "INVALID", detail, List.of(), "/" + e.getName(), request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> missing(
      MissingServletRequestParameterException e, HttpServletRequest request) {
    return answer(
        HttpStatus.UNPROCESSABLE_CONTENT,
        "MISSING",
        "The parameter " + e.getParameterName() + " is missing.",
        List.of(),
        "/" + e.getParameterName(),
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> media(HttpMediaTypeNotSupportedException e, HttpServletRequest request) {
    return answer(
        HttpStatus.UNSUPPORTED_MEDIA_TYPE,
        "NOT_JSON",
        "Send application/json.",
        List.of(),
        null,
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> method(
      HttpRequestMethodNotSupportedException e, HttpServletRequest request) {
    return answer(
        HttpStatus.METHOD_NOT_ALLOWED,
        "METHOD",
        "This address does not take " + e.getMethod() + ".",
        List.of(),
        null,
        request);
  }

  @ExceptionHandler
  ResponseEntity<Failure> nowhere(NoResourceFoundException e, HttpServletRequest request) {
    return answer(
        HttpStatus.NOT_FOUND,
        "NOT_FOUND",
        "There is nothing at this address.",
        List.of("See /api/openapi"),
        null,
        request);
  }

  /** A reader of events went away; there is nobody to answer. */
  @ExceptionHandler
  void gone(AsyncRequestNotUsableException e) {}

  @ExceptionHandler
  ResponseEntity<Failure> bug(Exception e, HttpServletRequest request) {
    LOG.log(System.Logger.Level.ERROR, "Request " + Asking.requestId(request) + " failed", e);
    return answer(
        HttpStatus.INTERNAL_SERVER_ERROR,
        "UNEXPECTED",
        "Plenzo met an error of its own; nothing more is known here.",
        List.of("Tell an administrator the request's id: " + Asking.requestId(request)),
        null,
        request);
  }
}
